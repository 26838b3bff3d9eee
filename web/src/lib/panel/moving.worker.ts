import { movedShare } from './moving'

/** Compares each picture with the one before, beside the page: what leaves it is a number alone. */
let before: Uint8ClampedArray | undefined
self.onmessage = (event: MessageEvent<Uint8ClampedArray>) => {
  if (before?.length === event.data.length) self.postMessage(movedShare(before, event.data))
  before = event.data
}
