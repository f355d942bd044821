/** Tells browsers how work goes on: not at every step, but soon. */

import { EventEmitter } from 'node:events'
import type { DeliveryStatus } from '../../core/delivery'
import type { WorkStatus } from '../../core/work'
import { NoSuchDeliveryError, type Deliveries } from '../delivery/deliveries'
import type { Notifications } from './notifications'
import { NoSuchWorkError, type WorkStore } from './work-store'

/** A thousand small items are told of a few times a second. */
const quietMs = 200

export interface News {
  readonly work: WorkStatus
  /** of the kind `delivery` only */
  readonly delivery: DeliveryStatus | null
}

/** `missed`: the database was away and what happened meanwhile was not heard, or something was removed. */
export class WorkNews extends EventEmitter<{ news: [News]; missed: [] }> {
  private readonly waiting = new Map<string, NodeJS.Timeout>()
  private stopped = false

  constructor(
    private readonly work: WorkStore,
    private readonly deliveries: Deliveries,
    notifications: Notifications,
  ) {
    super()
    this.setMaxListeners(0)
    notifications.on('changed', (id) => this.soon(id))
    notifications.on('back', () => this.emit('missed'))
  }

  stop(): void {
    this.stopped = true
    for (const timer of this.waiting.values()) clearTimeout(timer)
  }

  private soon(id: string): void {
    if (this.stopped || this.waiting.has(id) || this.listenerCount('news') === 0) return
    const timer = setTimeout(() => {
      this.waiting.delete(id)
      void this.tell(id)
    }, quietMs)
    this.waiting.set(id, timer)
  }

  private async tell(id: string): Promise<void> {
    try {
      const work = await this.work.status(id)
      const delivery = work.kind === 'delivery' ? await this.deliveries.status(id) : null
      this.emit('news', { work, delivery })
    } catch (error) {
      if (this.stopped) return
      // Removed meanwhile: whoever shows it asks for everything again, as when the database was away.
      if (error instanceof NoSuchWorkError || error instanceof NoSuchDeliveryError) {
        this.emit('missed')
        return
      }
      console.error('How work goes on could not be told:', error instanceof Error ? error.message : error)
    }
  }
}
