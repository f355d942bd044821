/** Hands out pieces of one shared memory: first fit, neighbours joined again when freed, never more than the budget. */

/** The memory is full. What asked for it can free something, or say so. */
export class ArenaFullError extends Error {
  override readonly name = 'ArenaFullError'
  constructor(
    readonly wanted: number,
    readonly free: number,
    readonly budget: number,
  ) {
    const mb = (bytes: number) => `${Math.ceil(bytes / 2 ** 20)} MB`
    super(
      `The picture needs ${mb(wanted)} of working memory; ${mb(free)} of ${mb(budget)} are free in one piece. Work at half scale, or give the engine a larger budget.`,
    )
  }
}

const alignment = 64

export class Arena {
  /** free pieces in order of address */
  private free: { address: number; size: number }[]
  private readonly used = new Map<number, number>()

  /** @param from first byte to hand out; what lies before belongs to the caller */
  constructor(
    from: number,
    readonly budget: number,
  ) {
    const start = Math.ceil(from / alignment) * alignment
    this.free = [{ address: start, size: budget - start }]
  }

  /** @returns the address of `bytes` bytes, divisible by 64; their content is whatever was there */
  allocate(bytes: number): number {
    const size = Math.max(alignment, Math.ceil(bytes / alignment) * alignment)
    const index = this.free.findIndex((piece) => piece.size >= size)
    if (index < 0) throw new ArenaFullError(size, this.largestFree(), this.budget)
    const piece = this.free[index]
    const { address } = piece
    if (piece.size === size) this.free.splice(index, 1)
    else this.free[index] = { address: address + size, size: piece.size - size }
    this.used.set(address, size)
    return address
  }

  /** @throws RangeError for an address that is not handed out */
  release(address: number): void {
    const size = this.used.get(address)
    if (size === undefined) throw new RangeError(`No memory is handed out at ${address}.`)
    this.used.delete(address)
    let index = this.free.findIndex((piece) => piece.address > address)
    if (index < 0) index = this.free.length
    const piece = { address, size }
    const after = this.free[index]
    if (after && after.address === address + size) {
      piece.size += after.size
      this.free.splice(index, 1)
    }
    const before = this.free[index - 1]
    if (before && before.address + before.size === address) before.size += piece.size
    else this.free.splice(index, 0, piece)
  }

  largestFree(): number {
    return this.free.reduce((most, piece) => Math.max(most, piece.size), 0)
  }

  usedBytes(): number {
    let sum = 0
    for (const size of this.used.values()) sum += size
    return sum
  }
}
