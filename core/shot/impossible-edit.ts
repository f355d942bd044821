/** The edit cannot be made on the document as it is: what it names is gone, or it would break a rule. */
export class ImpossibleEditError extends Error {
  override readonly name = 'ImpossibleEditError'
}
