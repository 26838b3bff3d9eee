/**
 * Has the browser keep the page itself, where it lets it (over an encrypted connection, or on the hub's own machine): it can be
 * installed as an app, and opens without the hub to say that it is not reached.
 */
export async function installable(): Promise<void> {
  if (!import.meta.env.PROD || !('serviceWorker' in navigator)) return
  try {
    await navigator.serviceWorker.register('/worker.js')
    const { active } = await navigator.serviceWorker.ready
    const manifest = (await (await fetch('/.vite/manifest.json')).json()) as Record<
      string,
      { file: string; css?: string[]; assets?: string[] }
    >
    const files = Object.values(manifest).flatMap((part) => [part.file, ...(part.css ?? []), ...(part.assets ?? [])])
    active?.postMessage({ files: files.map((file) => `/${file}`) })
  } catch {
    // Without it the page works as well, as long as the hub is reached.
  }
}
