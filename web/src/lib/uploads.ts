import { api, ask } from '@/api/client'
import type { Upload } from '@/api/types'

/** Where a picture that was uploaded is shown from. */
export const uploadAddress = (id: string) => `/api/uploads/${encodeURIComponent(id)}`

/** Uploads a picture; the hub checks, turns and scales it. */
export const uploadPicture = (file: Blob): Promise<Upload> =>
  ask(
    api.POST('/api/uploads', {
      body: file as unknown as string,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  )
