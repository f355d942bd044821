/** Half floats, for rooms that know images but not kernels. */

export { floatBitsToHalf, floatToHalf, halfTable, halfToFloat } from '../kernels/half'
