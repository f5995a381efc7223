import { api, data } from '@/api/client'
import { newId } from '@/api/id'
import type { LabelOut } from '@/api/schema'

const LONGEST_PX = 1600

/** A picture made small enough to keep, as JPEG. */
export async function reduced(file: File, longest = LONGEST_PX): Promise<Blob> {
  const picture = await createImageBitmap(file)
  const scale = Math.min(1, longest / Math.max(picture.width, picture.height))
  const canvas = new OffscreenCanvas(picture.width * scale, picture.height * scale)
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height)
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.85 })
}

const asBlob = {
  bodySerializer: (blob: unknown) => blob as Blob,
  headers: { 'Content-Type': 'image/jpeg' },
}

/** Store a picture with the sheet; returns its number. */
export async function keepPhoto(sheetId: number, file: File): Promise<number> {
  const path = { sheet_id: sheetId, client_id: newId() }
  const body = (await reduced(file)) as never
  const url = '/api/bench/sheets/{sheet_id}/photos/{client_id}'
  return (await data(api.PUT(url, { params: { path }, body, ...asBlob }))).id
}

/** The piece whose label is on a picture. */
export async function labelOn(file: File): Promise<LabelOut> {
  const body = (await reduced(file)) as never
  return data(api.POST('/api/bench/label', { body, ...asBlob } as never)) as Promise<LabelOut>
}

/** Store a picture of a repair; returns its number. */
export async function keepRepairPhoto(jobId: number, file: File): Promise<number> {
  const path = { repair_id: jobId, client_id: newId() }
  const body = (await reduced(file)) as never
  const url = '/api/upkeep/repairs/{repair_id}/photos/{client_id}'
  return (await data(api.PUT(url, { params: { path }, body, ...asBlob }))).id
}
