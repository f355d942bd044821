/** What somebody typed into a number: a number, or arithmetic that ends in one. */

import jsep from 'jsep'

// Only arithmetic is understood: no names, no calls.
const operators: Readonly<Record<string, (a: number, b: number) => number>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
}

/**
 * @param text with a point or a comma before decimals; one that begins with * or / goes on from `present`
 * @returns null where it is no number
 */
export function typedNumber(text: string, present: number): number | null {
  const plain = text.trim().replaceAll(',', '.')
  if (plain === '') return null
  try {
    const value = valueOf(jsep(/^[*/]/.test(plain) ? `(${present})${plain}` : plain))
    return value !== null && Number.isFinite(value) ? value : null
  } catch {
    return null
  }
}

/** @returns what is wrong with what was typed, and what became of it; null where nothing is */
export function typingFault(
  label: string,
  typed: string,
  number: number | null,
  { least, most }: { readonly least: number; readonly most: number },
): string | null {
  if (number === null)
    return typed.trim() === '' ? null : `“${typed.trim()}” is no number, so ${label} stays as it was.`
  if (number >= least && number <= most) return null
  const [held, side] = number < least ? [least, 'at least'] : [most, 'at most']
  return `${label} is ${side} ${held.toLocaleString('en')}: ${number.toLocaleString('en')} became ${held.toLocaleString('en')}.`
}

function valueOf(node: jsep.Expression): number | null {
  if (node.type === 'Literal') return typeof node.value === 'number' ? node.value : null
  if (node.type === 'UnaryExpression') {
    const value = valueOf(node.argument as jsep.Expression)
    return value === null ? null : node.operator === '-' ? -value : node.operator === '+' ? value : null
  }
  if (node.type !== 'BinaryExpression') return null
  const [left, right] = [valueOf(node.left as jsep.Expression), valueOf(node.right as jsep.Expression)]
  const operator = String(node.operator)
  if (!Object.hasOwn(operators, operator) || left === null || right === null) return null
  return operators[operator](left, right)
}
