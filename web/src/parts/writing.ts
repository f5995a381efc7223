import { useMutation } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, data } from '@/api/client'
import type { LaidIn, NewPageIn, RangeContent } from '@/api/schema'

type Content = NewPageIn['content']

/** A review of a knife as it is begun: every part as drafted. */
export const aReview = (piece: number): Content => ({
  ...{ kind: 'review', piece_id: piece, by: '', intro: '', show_people: false, embed: false },
  disclosure: { by: '', paid_by: '', seen_by: '' },
  photographs: true,
})

/** A comparison of what lies on the Board, for its customer. */
export const aComparison = (laid: LaidIn): Content => ({
  ...{ kind: 'comparison', laid, by: '', intro: '', show_people: false, embed: false },
  food: 'carrot',
})

/** A range of what a search and types leave. */
export const aRange = (search: string, knife_types: RangeContent['knife_types']): Content => ({
  ...{ kind: 'range', search, knife_types, by: '', intro: '', show_people: false, embed: false },
  ...{ predictions: true, price: true, glossary: true },
})

/** Begin a page to publish, and open it. */
export function useWriting() {
  const router = useRouter()
  return useMutation({
    mutationFn: (content: Content) =>
      data(api.POST('/api/pages', { body: { title: '', content } })),
    onSuccess: (page) => router.push(`/office/pages/${page.id}`),
  })
}
