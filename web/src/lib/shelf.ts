import { shallowRef, type ShallowRef } from 'vue'

type Json = Record<string, unknown>
const isObject = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v)

/** Applies a JSON Merge Patch (RFC 7396). What it does not touch stays the same object. */
export function mergePatch<T>(target: T, patch: unknown): T {
  if (!isObject(patch)) return patch as T
  const merged: Json = isObject(target) ? { ...target } : {}
  for (const [name, value] of Object.entries(patch)) {
    if (value === null) delete merged[name]
    else merged[name] = mergePatch(merged[name], value)
  }
  return merged as T
}

/** Entries of one kind by id, and as a list in an order, which changes once after several of them did. */
export class Shelf<T> {
  readonly list: ShallowRef<T[]> = shallowRef([])
  private entries = new Map<string, T>()
  private changed = false

  constructor(private readonly order: (a: T, b: T) => number) {}

  fill(entries: Record<string, T>) {
    this.entries = new Map(Object.entries(entries))
    this.changed = true
  }
  get(id: string): T | undefined {
    return this.entries.get(id)
  }
  put(id: string, entry: T) {
    this.entries.set(id, entry)
    this.changed = true
  }
  change(id: string, change: (entry: T) => T) {
    const entry = this.entries.get(id)
    if (entry !== undefined) this.put(id, change(entry))
  }
  drop(id: string) {
    this.changed = this.entries.delete(id) || this.changed
  }
  /** Shows what changed. */
  settle() {
    if (!this.changed) return
    this.changed = false
    this.list.value = [...this.entries.values()].sort(this.order)
  }
}
