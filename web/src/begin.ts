/** Where the page begins: what takes longest is asked for, then the interface is brought. */

import { beginOpening } from './shot/opening'

/** The page is not kept waiting for a server that does not answer. */
const longestWaitMs = 400

// An address that names nothing is the interface's to answer.
const begun = beginOpening(location.pathname).catch(() => undefined)
await Promise.race([begun, new Promise((late) => setTimeout(late, longestWaitMs))])
await import('./main')
