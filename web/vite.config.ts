import { readFileSync } from 'node:fs'
import { fileURLToPath, URL } from 'node:url'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'

// A hub to talk to while developing the front end: `make demo`, then `npm run dev -w web`.
const hub = process.env.AMVEK_HUB ?? 'http://127.0.0.1:8420'

/** While developing, the page shows the pass that the hub gives to a page of its own. */
const borrowedPass: Plugin = {
  name: 'borrowed-pass',
  apply: 'serve',
  async transformIndexHtml(html) {
    const page = await fetch(hub).then(
      (answer) => answer.text(),
      () => '',
    )
    return html.replace('<!--pass-->', /<meta name="amvek-page"[^>]*>/.exec(page)?.[0] ?? '')
  },
}

/** Below this, in bytes, what is sent is hardly less when it is compressed. */
const SMALL = 1000

/** Scripts and styles lie compressed beside themselves: the hub sends them as they are. */
const compressed: Plugin = {
  name: 'compressed',
  apply: 'build',
  generateBundle: {
    order: 'post',
    handler(_, bundle) {
      for (const [fileName, part] of Object.entries(bundle)) {
        const source = part.type === 'chunk' ? part.code : part.source
        if (!/\.(js|css|svg)$/.test(fileName) || source.length < SMALL) continue
        this.emitFile({ type: 'asset', fileName: `${fileName}.br`, source: brotliCompressSync(source) })
        this.emitFile({ type: 'asset', fileName: `${fileName}.gz`, source: gzipSync(source, { level: 9 }) })
      }
    },
  },
}

/** The icons that people choose from lie beside the front end; the hub finds them by words and gives each by itself. */
const icons: Plugin = {
  name: 'icons',
  apply: 'build',
  generateBundle() {
    const set = (file: string) =>
      JSON.parse(readFileSync(new URL(`../node_modules/@tabler/icons/${file}`, import.meta.url), 'utf8'))
    const nodes = set('tabler-nodes-outline.json') as Record<string, [string, Record<string, string>][]>
    const described = set('icons.json') as Record<string, { tags?: (string | number)[] }>
    const shipped = Object.entries(nodes)
      .filter(([name]) => !name.startsWith('brand-'))
      .map(([name, parts]) => {
        const body = parts
          .map(
            ([tag, of]) =>
              `<${tag} ${Object.entries(of)
                .map(([key, value]) => `${key}="${value}"`)
                .join(' ')}/>`,
          )
          .join('')
        return [name, { tags: (described[name]?.tags ?? []).map((tag) => String(tag).toLowerCase()), body }]
      })
    this.emitFile({ type: 'asset', fileName: 'icons.json', source: JSON.stringify(Object.fromEntries(shipped)) })
  },
}

export default defineConfig({
  plugins: [vue(), borrowedPass, icons, compressed],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: { target: 'es2023', manifest: true, emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
  server: { proxy: { '/api': { target: hub, ws: true }, '/icons': hub } },
})
