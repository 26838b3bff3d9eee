import type { Page } from '@playwright/test'
import { type ChildProcess, spawn } from 'node:child_process'
import { cp, mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const program = fileURLToPath(new URL('../../build/amvek', import.meta.url))
/** The variable of the environment that names a folder with a demo home for each worker, to begin with a copy of. */
export const TEMPLATES = 'E2E_TEMPLATES'
/** In ms; only a hub that hangs meets it. */
const START_LIMIT = 240_000

/** A real hub in a process of its own, with the pretend house beside it, on free ports and a folder of its own. */
export class Hub {
  url = ''
  mqtt = ''
  output = ''
  private process: ChildProcess | undefined
  /** The one that runs on a copy of this worker's template, if any does. */
  private static copied: Hub | undefined

  /** The session of whoever asks in the tests, where the hub is not open. */
  cookie: { Cookie?: string } = {}

  private constructor(
    readonly data: string,
    private readonly flags: string[],
    private readonly command: 'demo' | 'serve' = 'demo',
  ) {}

  static async start(...flags: string[]): Promise<Hub> {
    const hub = new Hub(await mkdtemp(join(tmpdir(), 'amvek-e2e-')), flags)
    const templates = process.env[TEMPLATES]
    // Two copies of one would have their pretend boxes at the same ports.
    if (templates === undefined || flags.join(' ') !== '--fresh' || Hub.copied) {
      await hub.run(flags)
      return hub
    }
    await cp(join(templates, process.env.TEST_PARALLEL_INDEX ?? '0'), hub.data, { recursive: true })
    Hub.copied = hub
    await hub.run([])
    return hub
  }

  /** A hub without a pretend house, over a folder in which there is a home. */
  static async over(data: string): Promise<Hub> {
    const hub = new Hub(data, ['--open'], 'serve')
    await hub.run(hub.flags)
    return hub
  }

  /** The code by which somebody becomes the owner, where nobody is yet. */
  get code(): string {
    return /enter this code: (\S+)/.exec(this.output)?.[1] ?? ''
  }

  private async run(flags: string[]): Promise<void> {
    const listen = this.url ? this.url.replace('http://', '') : '127.0.0.1:0'
    const child = spawn(program, [
      this.command,
      '--listen',
      listen,
      '--mqtt-listen',
      '127.0.0.1:0',
      '--data',
      this.data,
      // One day before the present is enough for the tests, and quicker to live through.
      ...(flags.includes('--fresh') ? ['--history', '1'] : []),
      ...flags,
    ])
    this.process = child
    this.output = ''
    await new Promise<void>((resolve, reject) => {
      const limit = setTimeout(() => reject(new Error(`the hub did not start:\n${this.output}`)), START_LIMIT)
      const heard = (data: Buffer) => {
        this.output += data.toString()
        const ready = /ready at (http:\S+) \(MQTT at ([^)]+)\)/.exec(this.output)
        if (!ready) return
        clearTimeout(limit)
        this.url = ready[1] ?? ''
        this.mqtt = ready[2] ?? ''
        resolve()
      }
      child.stdout?.on('data', heard)
      child.stderr?.on('data', heard)
      child.on('exit', (code) => {
        clearTimeout(limit)
        reject(new Error(`the hub ended with ${code}:\n${this.output}`))
      })
    })
  }

  private async end(signal: NodeJS.Signals): Promise<void> {
    const child = this.process
    if (!child || child.exitCode !== null || child.signalCode !== null) return
    const ended = new Promise((resolve) => child.once('exit', resolve))
    child.removeAllListeners('exit')
    child.once('exit', () => undefined)
    child.kill(signal)
    await Promise.race([ended, new Promise((resolve) => child.once('close', resolve))])
  }

  /** Kills it as a power cut does. */
  kill(): Promise<void> {
    return this.end('SIGKILL')
  }

  /** Ends it as its owner would; its folder stays, with all in one file. */
  shutDown(): Promise<void> {
    return this.end('SIGTERM')
  }

  /** Starts it again on the same folder and port; with --off and a duration as if it had been off for that long. */
  async again(...more: string[]): Promise<void> {
    await this.run([...this.flags.filter((f) => f !== '--empty' && f !== '--fresh'), ...more])
  }

  async stop(): Promise<void> {
    await this.shutDown()
    if (Hub.copied === this) Hub.copied = undefined
    await rm(this.data, { recursive: true, force: true })
  }

  async get<T>(path: string): Promise<T> {
    const response = await fetch(this.url + path, { headers: this.cookie })
    if (!response.ok) throw new Error(`${path}: ${response.status} ${await response.text()}`)
    return (await response.json()) as T
  }

  /** Has the tests ask as whoever is in with a page. */
  async askAs(page: Page): Promise<void> {
    const all = await page.context().cookies(this.url)
    this.cookie = { Cookie: all.map((c) => `${c.name}=${c.value}`).join('; ') }
  }

  /** The pass of a page of the hub, by which what is sent counts as a person's. */
  private async pass(): Promise<string> {
    const page = await (await fetch(`${this.url}/`)).text()
    return /<meta name="amvek-page" content="([^"]*)"/.exec(page)?.[1] ?? ''
  }

  async send(method: string, path: string, body?: unknown): Promise<Response> {
    const pass = { 'Amvek-Page': await this.pass(), ...this.cookie }
    return fetch(this.url + path, {
      method,
      headers: body === undefined ? pass : { ...pass, 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
  }

  /** Does something to the pretend house; returns after everything that followed from it within the clock's jump. */
  async bench(act: Record<string, unknown>): Promise<void> {
    const response = await this.send('POST', '/api/bench', act)
    if (!response.ok) throw new Error(await response.text())
  }

  advance(seconds: number): Promise<void> {
    return this.bench({ what: 'advance', seconds })
  }
}
