import { type ChildProcess, execFile, spawn } from 'node:child_process'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'

const run = promisify(execFile)

/** Publishes with Debian's own client; rejects when the broker refuses. */
export async function publish(at: string, user: string, key: string, topic: string, payload: string): Promise<void> {
  const [host, port] = at.split(':') as [string, string]
  await run('mosquitto_pub', [
    '-V',
    '5',
    '-h',
    host,
    '-p',
    port,
    '-u',
    user,
    '-P',
    key,
    '-t',
    topic,
    '-m',
    payload,
    '-q',
    '1',
  ])
}

/** Listens with Debian's own client and resolves with the first message, or with what it says when it is refused. */
export function listen(
  at: string,
  user: string,
  key: string,
  topic: string,
): { first: Promise<string>; stop: () => void } {
  const [host, port] = at.split(':') as [string, string]
  const child = spawn('mosquitto_sub', [
    '-V',
    '5',
    '-d',
    '-h',
    host,
    '-p',
    port,
    '-u',
    user,
    '-P',
    key,
    '-t',
    topic,
    '-C',
    '1',
  ])
  let said = ''
  const first = new Promise<string>((resolve) => {
    child.stdout.on('data', (data: Buffer) => (said += data.toString()))
    child.stderr.on('data', (data: Buffer) => (said += data.toString()))
    child.on('exit', () => resolve(said))
  })
  return { first, stop: () => child.kill() }
}

async function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const address = server.address()
      server.close(() => resolve(typeof address === 'object' && address ? address.port : 0))
    })
  })
}

/** Debian's mosquitto on a free port, with one user. */
export class Mosquitto {
  private process: ChildProcess | undefined
  private constructor(
    readonly address: string,
    private readonly folder: string,
  ) {}

  static async start(user: string, password: string): Promise<Mosquitto> {
    const folder = await mkdtemp(join(tmpdir(), 'amvek-mosquitto-'))
    const port = await freePort()
    const passwords = join(folder, 'passwords')
    await writeFile(passwords, '')
    await run('mosquitto_passwd', ['-b', passwords, user, password])
    await writeFile(
      join(folder, 'conf'),
      `listener ${port} 127.0.0.1\nallow_anonymous false\npassword_file ${passwords}\nuser root\n`,
    )
    const broker = new Mosquitto(`127.0.0.1:${port}`, folder)
    await broker.run()
    return broker
  }

  async run(): Promise<void> {
    const child = spawn('/usr/sbin/mosquitto', ['-v', '-c', join(this.folder, 'conf')])
    this.process = child
    await new Promise<void>((resolve, reject) => {
      let said = ''
      child.stderr.on('data', (data: Buffer) => {
        said += data.toString()
        if (said.includes('running')) resolve()
      })
      child.on('exit', () => reject(new Error(`mosquitto ended:\n${said}`)))
    })
  }

  async kill(): Promise<void> {
    const child = this.process
    if (!child || child.exitCode !== null) return
    const ended = new Promise((resolve) => child.once('exit', resolve))
    child.removeAllListeners('exit')
    const again = new Promise((resolve) => child.once('exit', resolve))
    child.kill('SIGKILL')
    await Promise.race([ended, again])
  }

  async stop(): Promise<void> {
    await this.kill()
    await rm(this.folder, { recursive: true, force: true })
  }
}
