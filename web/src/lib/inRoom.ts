/** What something in one of some rooms is called there: "Ceiling", not "Mill room ceiling". */
export function calledIn(rooms: string[], title: string): string {
  const room = rooms.find((r) => r && title.startsWith(`${r} `))
  const rest = room ? title.slice(room.length + 1) : title
  return rest.charAt(0).toUpperCase() + rest.slice(1)
}
