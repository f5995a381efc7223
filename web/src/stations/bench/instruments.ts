import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onUnmounted } from 'vue'
import { api, data } from '@/api/client'
import type { BenchEvent, InstrumentOut } from '@/api/schema'

/** The shop's instruments with the state of each line, told by the server as it changes. */
export function useInstruments(
  onReading: (event: BenchEvent) => void,
  onSheet: (sheetId: number) => void,
) {
  const client = useQueryClient()
  const key = ['instruments']
  const query = useQuery({ queryKey: key, queryFn: () => data(api.GET('/api/instruments')) })
  const all = computed(() => (query.data.value ?? []).filter((i) => !i.retired))
  const onLine = computed(() => all.value.filter((i) => i.address))
  const blocks = computed(() => all.value.filter((i) => i.certified !== null))

  function heard(event: BenchEvent): void {
    if (event.what === 'sheet') onSheet(event.sheet_id ?? 0)
    if (event.what === 'reading') onReading(event)
    if (event.what === 'instrument')
      client.setQueryData<InstrumentOut[]>(key, (rows) =>
        rows?.map((row) =>
          row.id === event.instrument_id ? { ...row, state: event.state, words: event.words } : row,
        ),
      )
  }

  const stream = new EventSource('/api/instruments/events')
  stream.onopen = () => void client.invalidateQueries({ queryKey: key })
  stream.onmessage = (message) => heard(JSON.parse(message.data as string) as BenchEvent)
  onUnmounted(() => stream.close())

  /** The instruments that can measure with what this quantity asks for; those ready first. */
  const fitting = (asked: string) =>
    onLine.value
      .filter((i) => i.measures.includes(asked))
      .sort((a, b) => Number(b.state === 'ready') - Number(a.state === 'ready'))

  return { all, onLine, blocks, fitting }
}
