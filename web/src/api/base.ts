/**
 * Below which path the shop is served: '' or '/knives', as the page says that the server sent.
 * The router and the client of the API begin there; whatever else names an address of the shop
 * asks `addressOf` for it.
 */
export const base =
  document.querySelector<HTMLMetaElement>('meta[name="base-path"]')?.content.replace(/\/$/, '') ??
  ''

/** The address of something the shop serves, by its path there: `addressOf('/api/rack.csv')`. */
export const addressOf = (path: string): string => `${base}${path}`
