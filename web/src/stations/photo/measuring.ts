import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type {
  AcceptIn,
  KnownIn,
  MeasureIn,
  MeasuredOut,
  PhotoOut,
  MovedIn,
  StandInIn,
} from '@/api/schema'
import { newId } from '@/api/id'
import { stored } from '@/parts/stored'

export type View = PhotoOut['view']
export type Shot = NonNullable<StandInIn['shot']>
export type Pixel = [number, number]

/** The simple points a person can move, in the order of work, with the word on each. */
export const POINTS: { key: 'heel' | 'tip' | 'joint' | 'butt'; label: string }[] = [
  { key: 'heel', label: 'heel of the edge' },
  { key: 'tip', label: 'tip' },
  { key: 'joint', label: 'handle joint' },
  { key: 'butt', label: 'end of the handle' },
]

/** Places along edge and along spine that can be moved, as many as the server offers. */
const BENDS = 7
const RULERS = 'maple-rook.rulers'
const draftKey = (id: number) => `maple-rook.photo.${id}`
const read = <T extends object>(key: string, otherwise: T): T => ({
  ...otherwise,
  ...stored<Partial<T>>(key, {}),
})

/** One sheet's photos: which is looked at, how it is measured, what it gives. */
export function usePhotos(sheetId: number) {
  const client = useQueryClient()
  const listKey = ['photos', sheetId]
  const list = useQuery({
    queryKey: listKey,
    queryFn: () => data(api.GET('/api/photos', { params: { query: { sheet_id: sheetId } } })),
  })
  const view = ref<View>('side')
  const chosen = ref<number | null>(null)
  const photo = computed<PhotoOut | undefined>(() => {
    const all = list.data.value ?? []
    return all.find((p) => p.id === chosen.value) ?? all.find((p) => p.view === view.value)
  })
  watch(photo, (now) => now && (view.value = now.view))

  const blank = (): MeasureIn => ({ stand_off_mm: 0, at_mm: [] })
  const how = ref<MeasureIn>(blank())
  watch(
    () => photo.value?.id,
    (id) => (how.value = id ? read(draftKey(id), blank()) : blank()),
    { immediate: true },
  )
  watch(
    how,
    (now) => photo.value && localStorage.setItem(draftKey(photo.value.id), JSON.stringify(now)),
    { deep: true },
  )

  const measured = useQuery({
    queryKey: computed(() => ['photo-measured', photo.value?.id, JSON.stringify(how.value)]),
    queryFn: () =>
      data(
        api.POST('/api/photos/{photo_id}/measure', {
          params: { path: { photo_id: photo.value!.id } },
          body: how.value,
        }),
      ),
    enabled: computed(() => Boolean(photo.value)),
    placeholderData: (before: MeasuredOut | undefined, query) =>
      query?.queryKey[1] === photo.value?.id ? keepPreviousData(before) : undefined,
    staleTime: 60_000,
    retry: false,
  })
  const found = measured.data

  /** What the shop found its printed ruler lines to measure, by card. */
  const rulers = ref(read<Record<string, number>>(RULERS, {}))
  watch(
    () => found.value?.card?.label,
    (label) => {
      const known = label ? rulers.value[label] : undefined
      if (known && how.value.ruler_mm == null) how.value = { ...how.value, ruler_mm: known }
    },
  )

  function setRuler(mm: number | null): void {
    const label = found.value?.card?.label
    if (label) {
      const others = Object.entries(rulers.value).filter(([key]) => key !== label)
      rulers.value = Object.fromEntries(mm ? [...others, [label, mm]] : others)
      localStorage.setItem(RULERS, JSON.stringify(rulers.value))
    }
    how.value = { ...how.value, ruler_mm: mm }
  }

  /** Points a person moved, by name, added to those moved before; null forgets them all. */
  function movePoints(moved: Record<string, Pixel> | null): void {
    const points: MovedIn = moved ? { ...how.value.points } : {}
    for (const [id, at] of Object.entries(moved ?? {})) {
      const [of = '', index] = id.split('.')
      if (index === undefined) points[of as 'heel'] = at
      else {
        const line = [...(points[of as 'edge'] ?? Array<null>(BENDS).fill(null))]
        line[Number(index)] = at
        points[of as 'edge'] = line
      }
    }
    how.value = { ...how.value, points: moved ? points : null }
  }
  const setKnown = (known: KnownIn | null) => (how.value = { ...how.value, known, points: null })

  function taken(now: PhotoOut): void {
    client.setQueryData<PhotoOut[]>(listKey, (before) => [
      now,
      ...(before ?? []).filter((p) => p.id !== now.id),
    ])
    chosen.value = now.id
  }
  const upload = useMutation({
    mutationFn: (file: Blob) =>
      data(
        api.POST('/api/photos', {
          params: {
            query: { sheet_id: sheetId, view: view.value, client_id: newId() },
          },
          body: file as never,
          bodySerializer: (blob: unknown) => blob as Blob,
          headers: { 'Content-Type': file.type || 'application/octet-stream' },
        }),
      ),
    onSuccess: taken,
  })
  const standIn = useMutation({
    mutationFn: (shot: Shot) =>
      data(
        api.POST('/api/photos/stand-in', {
          body: { client_id: newId(), sheet_id: sheetId, view: view.value, shot },
        }),
      ),
    onSuccess: taken,
  })
  const discard = useMutation({
    mutationFn: (id: number) =>
      data(api.DELETE('/api/photos/{photo_id}', { params: { path: { photo_id: id } } })),
    onSuccess: (left, id) => {
      localStorage.removeItem(draftKey(id))
      chosen.value = null
      client.setQueryData(listKey, left)
    },
  })

  let acceptance = { of: '', id: '' }
  const accept = useMutation({
    mutationFn: (asked: { quantities: AcceptIn['quantities']; keepEdge: boolean }) => {
      // The same acceptance sent again after a lost answer is the same one; a changed one is not.
      const of = JSON.stringify([photo.value!.id, how.value, asked])
      if (acceptance.of !== of) acceptance = { of, id: newId() }
      return data(
        api.POST('/api/photos/{photo_id}/accept', {
          params: { path: { photo_id: photo.value!.id } },
          body: {
            client_id: acceptance.id,
            how: how.value,
            quantities: asked.quantities,
            keep_edge: asked.keepEdge,
            taken_at: new Date().toISOString(),
          },
        }),
      )
    },
    onSuccess: () => {
      for (const shown of ['photos', 'photo-measured', 'bench-sheet', 'rack', 'strip', 'board'])
        void client.invalidateQueries({ queryKey: [shown] })
      void client.invalidateQueries({ queryKey: ['sheet'] })
    },
  })

  // prettier-ignore
  return {
    list, view, chosen, photo, how, measured, found, setRuler, movePoints, setKnown,
    upload, standIn, discard, accept,
  }
}
