/**
 * The Huffman coder of PIZ: 16-bit symbols, canonical codes of up to 58 bits, one extra symbol for runs.
 *
 * A block is five little-endian words (first symbol, run symbol, bytes of the length table, bits of data, reserved), the
 * code lengths packed in 6 bits each, then the codes, most significant bit first.
 */

import { BadBlock } from './layout'

const symbolCount = 65537
const longestCode = 58
const shortZeroRun = 59
const longZeroRun = 63
const shortestLongRun = 2 + longZeroRun - shortZeroRun
const longestLongRun = 255 + shortestLongRun
const tableBits = 14

/** Codes of equal length follow each other; the longest codes have the smallest values. */
function firstCodes(lengths: Uint8Array): Float64Array {
  const counts = new Float64Array(longestCode + 1)
  for (const length of lengths) counts[length]++
  const first = new Float64Array(longestCode + 1)
  let code = 0
  for (let length = longestCode; length > 0; length--) {
    const next = Math.floor((code + counts[length]) / 2)
    first[length] = code
    code = next
  }
  return first
}

class BitReader {
  private held = 0
  private count = 0
  constructor(
    private readonly bytes: Uint8Array,
    public at: number,
  ) {}
  take(bits: number): number {
    while (this.count < bits) {
      if (this.at >= this.bytes.length) throw new BadBlock('its code lengths are cut')
      this.held = ((this.held << 8) | this.bytes[this.at++]) & 0xffffff
      this.count += 8
    }
    this.count -= bits
    return (this.held >> this.count) & ((1 << bits) - 1)
  }
}

function unpackLengths(bytes: Uint8Array, at: number, first: number, last: number): Uint8Array {
  const lengths = new Uint8Array(symbolCount)
  const reader = new BitReader(bytes, at)
  for (let symbol = first; symbol <= last; symbol++) {
    const length = reader.take(6)
    if (length < shortZeroRun) {
      lengths[symbol] = length
      continue
    }
    const run = length === longZeroRun ? reader.take(8) + shortestLongRun : length - shortZeroRun + 2
    if (symbol + run > last + 1) throw new BadBlock('its code lengths run past the last symbol')
    symbol += run - 1
  }
  return lengths
}

/** @returns exactly `count` symbols; @throws BadBlock on anything that is not a sound block */
export function decodeHuffman(packed: Uint8Array, count: number): Uint16Array {
  const out = new Uint16Array(count)
  if (packed.length === 0 && count === 0) return out
  if (packed.length < 20) throw new BadBlock('its code table is cut')
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength)
  const first = view.getUint32(0, true)
  const runSymbol = view.getUint32(4, true)
  const tableLength = view.getUint32(8, true)
  const bitCount = view.getUint32(12, true)
  if (first >= symbolCount || runSymbol >= symbolCount || first > runSymbol)
    throw new BadBlock('its symbols are impossible')
  const dataStart = 20 + tableLength
  if (dataStart + Math.ceil(bitCount / 8) > packed.length) throw new BadBlock('its codes are cut')
  const lengths = unpackLengths(packed.subarray(0, dataStart), 20, first, runSymbol)

  const codes = firstCodes(lengths)
  const next = codes.slice()
  const fast = new Int32Array(1 << tableBits)
  const longSymbols: number[][] = Array.from({ length: longestCode + 1 }, () => [])
  for (let symbol = first; symbol <= runSymbol; symbol++) {
    const length = lengths[symbol]
    if (length === 0) continue
    const code = next[length]++
    if (code >= 2 ** length) throw new BadBlock('its codes overlap')
    if (length <= tableBits) {
      const from = code << (tableBits - length)
      fast.fill((symbol << 6) | length, from, from + (1 << (tableBits - length)))
    } else {
      longSymbols[length].push(symbol)
    }
  }

  let at = dataStart
  let held = 0
  let heldBits = 0
  let bitsLeft = bitCount
  let to = 0
  let previous = 0
  while (bitsLeft > 0) {
    while (heldBits <= 16) {
      held = (held << 8) | (at < packed.length ? packed[at] : 0)
      at++
      heldBits += 8
    }
    const peek = (held >>> (heldBits - tableBits)) & ((1 << tableBits) - 1)
    let symbol: number
    const entry = fast[peek]
    if (entry !== 0) {
      const length = entry & 63
      symbol = entry >> 6
      heldBits -= length
      bitsLeft -= length
    } else {
      let code = peek
      let length = tableBits
      heldBits -= tableBits
      symbol = -1
      while (symbol < 0) {
        if (++length > longestCode) throw new BadBlock('it holds a code that stands for nothing')
        if (heldBits === 0) {
          held = at < packed.length ? packed[at] : 0
          at++
          heldBits = 8
        }
        heldBits--
        code = code * 2 + ((held >>> heldBits) & 1)
        const index = code - codes[length]
        if (index >= 0 && index < longSymbols[length].length) symbol = longSymbols[length][index]
      }
      bitsLeft -= length
    }
    if (symbol === runSymbol) {
      while (heldBits < 8) {
        held = (held << 8) | (at < packed.length ? packed[at] : 0)
        at++
        heldBits += 8
      }
      heldBits -= 8
      bitsLeft -= 8
      const run = (held >>> heldBits) & 255
      if (to === 0 || to + run > count) throw new BadBlock('a run passes the end')
      out.fill(previous, to, to + run)
      to += run
    } else {
      if (to >= count) throw new BadBlock('it holds too many samples')
      previous = symbol
      out[to++] = symbol
    }
  }
  if (to !== count || bitsLeft < 0) throw new BadBlock(`it holds ${to} samples instead of ${count}`)
  return out
}

/** Code lengths of a Huffman tree over the symbols that occur. */
function codeLengths(frequencies: Float64Array): Uint8Array {
  const symbols: number[] = []
  for (let s = 0; s < symbolCount; s++) if (frequencies[s] > 0) symbols.push(s)
  symbols.sort((a, b) => frequencies[a] - frequencies[b] || a - b)
  const lengths = new Uint8Array(symbolCount)
  const leaves = symbols.length
  if (leaves === 1) {
    lengths[symbols[0]] = 1
    return lengths
  }
  // Two queues (leaves in order of weight, joined nodes in order of making) give the tree in linear time.
  const weight = new Float64Array(2 * leaves - 1)
  const parent = new Int32Array(2 * leaves - 1)
  for (let i = 0; i < leaves; i++) weight[i] = frequencies[symbols[i]]
  let leaf = 0
  let joined = leaves
  for (let node = leaves; node < 2 * leaves - 1; node++) {
    for (let side = 0; side < 2; side++) {
      const takeLeaf = leaf < leaves && (joined >= node || weight[leaf] <= weight[joined])
      const child = takeLeaf ? leaf++ : joined++
      weight[node] += weight[child]
      parent[child] = node
    }
  }
  const depth = new Uint8Array(2 * leaves - 1)
  for (let node = 2 * leaves - 3; node >= 0; node--) {
    depth[node] = depth[parent[node]] + 1
    if (node < leaves) lengths[symbols[node]] = depth[node]
  }
  return lengths
}

class BitWriter {
  bytes = new Uint8Array(1 << 16)
  length = 0
  bits = 0
  private held = 0
  private heldBits = 0
  put(value: number, count: number): void {
    this.bits += count
    for (let left = count; left > 0;) {
      const room = 8 - this.heldBits
      const now = Math.min(room, left)
      const chunk = Math.floor(value / 2 ** (left - now)) & ((1 << now) - 1)
      this.held = (this.held << now) | chunk
      this.heldBits += now
      left -= now
      if (this.heldBits === 8) this.flushByte()
    }
  }
  private flushByte(): void {
    if (this.length === this.bytes.length) {
      const larger = new Uint8Array(this.bytes.length * 2)
      larger.set(this.bytes)
      this.bytes = larger
    }
    this.bytes[this.length++] = this.held
    this.held = 0
    this.heldBits = 0
  }
  finish(): Uint8Array {
    if (this.heldBits > 0) {
      this.held <<= 8 - this.heldBits
      this.flushByte()
    }
    return this.bytes.subarray(0, this.length)
  }
}

function packLengths(lengths: Uint8Array, first: number, last: number): Uint8Array {
  const writer = new BitWriter()
  for (let symbol = first; symbol <= last; symbol++) {
    if (lengths[symbol] > 0) {
      writer.put(lengths[symbol], 6)
      continue
    }
    let run = 1
    while (symbol + run <= last && run < longestLongRun && lengths[symbol + run] === 0) run++
    if (run >= shortestLongRun) {
      writer.put(longZeroRun, 6)
      writer.put(run - shortestLongRun, 8)
    } else if (run >= 2) {
      writer.put(shortZeroRun + run - 2, 6)
    } else {
      writer.put(0, 6)
    }
    symbol += run - 1
  }
  return writer.finish()
}

/** @returns a block that {@link decodeHuffman} and every other reader of the format take */
export function encodeHuffman(words: Uint16Array): Uint8Array {
  if (words.length === 0) return new Uint8Array(0)
  const frequencies = new Float64Array(symbolCount)
  let first = 65535
  let last = 0
  for (const word of words) {
    frequencies[word]++
    if (word < first) first = word
    if (word > last) last = word
  }
  const runSymbol = last + 1
  frequencies[runSymbol] = 1
  const lengths = codeLengths(frequencies)
  const next = firstCodes(lengths)
  const codes = new Float64Array(symbolCount)
  for (let symbol = first; symbol <= runSymbol; symbol++)
    if (lengths[symbol] > 0) codes[symbol] = next[lengths[symbol]]++

  const writer = new BitWriter()
  const send = (word: number, repeats: number) => {
    const bits = lengths[word]
    if (repeats > 0 && bits + lengths[runSymbol] + 8 < bits * repeats) {
      writer.put(codes[word], bits)
      writer.put(codes[runSymbol], lengths[runSymbol])
      writer.put(repeats, 8)
    } else {
      for (let i = 0; i <= repeats; i++) writer.put(codes[word], bits)
    }
  }
  let current = words[0]
  let repeats = 0
  for (let i = 1; i < words.length; i++) {
    if (words[i] === current && repeats < 255) {
      repeats++
    } else {
      send(current, repeats)
      current = words[i]
      repeats = 0
    }
  }
  send(current, repeats)

  const table = packLengths(lengths, first, runSymbol)
  const data = writer.finish()
  const out = new Uint8Array(20 + table.length + data.length)
  const view = new DataView(out.buffer)
  view.setUint32(0, first, true)
  view.setUint32(4, runSymbol, true)
  view.setUint32(8, table.length, true)
  view.setUint32(12, writer.bits, true)
  out.set(table, 20)
  out.set(data, 20 + table.length)
  return out
}
