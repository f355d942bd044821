/** The edit names something that the shot does not have. */
export class ImpossibleEditError extends Error {
  override readonly name = 'ImpossibleEditError'
}
