/** Content keys: a hash of an operation, its version, its parameters at the frame, and its inputs' keys. */

import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils'

/** @returns 128 bits in hex; the parts are told apart, so ("a", "bc") differs from ("ab", "c") */
export function contentKey(...parts: readonly unknown[]): string {
  return bytesToHex(sha256(utf8ToBytes(JSON.stringify(parts))).subarray(0, 16))
}
