import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { http, ok, upload } from './client'
import type { components } from './schema'

export type Picture = components['schemas']['PictureRow']

export const usePictures = (id: string) =>
  useQuery({ queryKey: ['pictures', id], queryFn: () => ok(http.GET('/api/builds/{build_id}/pictures', { params: { path: { build_id: id } } })) as Promise<Picture[]> })

/** Keep a photo at a place, or delete one. */
export function usePictureCall(id: string) {
  const client = useQueryClient()
  return useMutation<Picture[], Error, { place: string; file: File } | { remove: string }>({
    mutationFn: async (call) =>
      'remove' in call
        ? ((await ok(http.DELETE('/api/builds/{build_id}/pictures/{picture_id}', { params: { path: { build_id: id, picture_id: call.remove } } }))) as Picture[])
        : upload<Picture[]>(`/api/builds/${id}/pictures?place=${encodeURIComponent(call.place)}`, await smaller(call.file)),
    onSuccess: (rows) => client.setQueryData(['pictures', id], rows),
  })
}

const LONGEST_PX = 2000

/** A camera's picture in a size that shows what was found; as it is where the browser cannot make it smaller. */
async function smaller(file: File): Promise<File> {
  try {
    const image = await createImageBitmap(file)
    const share = Math.min(1, LONGEST_PX / Math.max(image.width, image.height))
    if (share === 1 && file.size < 2e6) return file
    const canvas = document.createElement('canvas')
    canvas.width = Math.round(image.width * share)
    canvas.height = Math.round(image.height * share)
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
    const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', 0.85))
    return blob ? new File([blob], file.name.replace(/\.\w+$/, '') + '.jpg', { type: 'image/jpeg' }) : file
  } catch {
    return file
  }
}
