import { Problem } from './client'

/**
 * How every query is made. An answer is replaced as a whole and never changed in place, so only the
 * reference to it is reactive: reading a knife's outline through a proxy takes many times as long.
 */
export const QUERIES = {
  shallow: true,
  retry: (count: number, error: Error) => !(error instanceof Problem) && count < 3,
  refetchOnWindowFocus: false,
}
