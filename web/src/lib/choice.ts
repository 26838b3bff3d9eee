/** One of those that can be chosen: its value, what it is called, and what it is listed under. */
export interface Choice<V extends string = string> {
  value: V
  title: string
  group?: string
}
