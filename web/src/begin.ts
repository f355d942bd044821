/** Where the page begins: what takes longest is asked for, then the interface is brought. */

import { beginOpening } from './shot/opening'

/** The page is not kept waiting for a server that does not answer. */
const longestWaitMs = 400

await Promise.race([beginOpening(location.pathname), new Promise((late) => setTimeout(late, longestWaitMs))])
await import('./main')
