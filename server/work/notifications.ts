/** PostgreSQL tells when work is new or goes on, so that nobody has to ask all the time. */

import { EventEmitter } from 'node:events'
import { Client } from 'pg'

/** Workers look for something to do. */
export const newWorkChannel = 'enkrasis_new_work'
/** Something of the work with this id is different now. */
export const changedWorkChannel = 'enkrasis_changed_work'

const againAfterMs = 1000

/** `back`: it listens again after the database was away; what happened meanwhile was not heard. */
export class Notifications extends EventEmitter<{ work: []; changed: [id: string]; back: [] }> {
  private client: Client | null = null
  private timer: NodeJS.Timeout | null = null
  private stopped = false

  constructor(private readonly databaseUrl: string) {
    super()
    this.setMaxListeners(0)
  }

  /** @throws when the database does not answer the first time */
  async start(): Promise<void> {
    const client = new Client({ connectionString: this.databaseUrl, keepAlive: true })
    client.on('notification', ({ channel, payload }) => {
      if (channel === newWorkChannel) this.emit('work')
      else if (payload) this.emit('changed', payload)
    })
    // The loss of the connection is told as an error, as an end, or as both.
    client.on('error', () => this.listenAgain(client))
    client.on('end', () => this.listenAgain(client))
    this.client = client
    await client.connect()
    await client.query(`LISTEN ${newWorkChannel}; LISTEN ${changedWorkChannel}`)
  }

  async stop(): Promise<void> {
    this.stopped = true
    if (this.timer) clearTimeout(this.timer)
    await this.client?.end().catch(() => undefined)
  }

  private listenAgain(lost: Client): void {
    if (this.stopped || this.client !== lost) return
    this.client = null
    lost.end().catch(() => undefined)
    this.timer = setTimeout(() => {
      this.start().then(
        () => this.emit('back'),
        () => this.client && this.listenAgain(this.client),
      )
    }, againAfterMs)
  }
}
