/** Where things are on this machine: folders, database, address. From the environment, with defaults for one machine. */

import { delimiter, resolve } from 'node:path'
import { object, number, string } from 'yup'
import { MediaRoots } from './media/media-roots'

export interface Configuration {
  readonly databaseUrl: string
  /** shot files lie below the store; nothing outside these folders is read */
  readonly media: MediaRoots
  readonly deliveryRoot: string
  /** where elements lie that are kept computed, and how much room they may take */
  readonly computedRoot: string
  readonly computedBytes: number
  /** how much room sources that are made here may take in the folder of a shot */
  readonly madeBytes: number
  /** where the stand-in camera keeps the truth of its shots; nothing but `score` reads it */
  readonly truthRoot: string
  /** where files wait that are being sent */
  readonly uploadFolder: string
  readonly webRoot: string
  readonly host: string
  /** by which the server may be called, besides those of this machine itself */
  readonly names: readonly string[]
  readonly port: number
  readonly threads: number
  readonly engineBytes: number
  /** whether long work is done in the server itself, besides workers of their own */
  readonly worksHere: boolean
}

const environment = object({
  ENKRASIS_DATABASE: string().required(
    'Set ENKRASIS_DATABASE to the address of a PostgreSQL database, or start with "npm run demo".',
  ),
  ENKRASIS_DATA: string().default('.data'),
  /** folders of footage beside the one in ENKRASIS_DATA, separated as in PATH */
  ENKRASIS_MEDIA: string().default(''),
  ENKRASIS_WEB: string().default('dist/web'),
  ENKRASIS_HOST: string().default('127.0.0.1'),
  /** names of this machine in the network, separated by spaces */
  ENKRASIS_NAMES: string().default(''),
  ENKRASIS_PORT: number().integer().min(0).max(65535).default(4100),
  ENKRASIS_THREADS: number().integer().min(1).max(256).default(2),
  /** `elsewhere`: only `enkrasis worker` does long work */
  ENKRASIS_WORK: string<'here' | 'elsewhere'>().oneOf(['here', 'elsewhere']).default('here'),
  /** gibibytes for elements that are kept computed */
  ENKRASIS_COMPUTED_GB: number().min(0.001).max(100_000).default(20),
  /** gibibytes in the folder of a shot for sources that are made here */
  ENKRASIS_MADE_GB: number().min(0.000001).max(100_000).default(100),
  ENKRASIS_ENGINE_MB: number().integer().min(64).max(4000).default(512),
})

/** @throws Error (Yup's among them) whose message says which setting is wrong */
export function configurationFrom(variables: NodeJS.ProcessEnv): Configuration {
  const set = environment.validateSync(variables)
  const data = resolve(set.ENKRASIS_DATA)
  return {
    databaseUrl: set.ENKRASIS_DATABASE,
    media: new MediaRoots(resolve(data, 'media'), set.ENKRASIS_MEDIA.split(delimiter).filter(Boolean)),
    deliveryRoot: resolve(data, 'delivery'),
    computedRoot: resolve(data, 'computed'),
    computedBytes: set.ENKRASIS_COMPUTED_GB * 2 ** 30,
    madeBytes: set.ENKRASIS_MADE_GB * 2 ** 30,
    truthRoot: resolve(data, 'truth'),
    uploadFolder: resolve(data, 'uploads'),
    webRoot: resolve(set.ENKRASIS_WEB),
    host: set.ENKRASIS_HOST,
    names: set.ENKRASIS_NAMES.split(/\s+/).filter(Boolean),
    port: set.ENKRASIS_PORT,
    threads: set.ENKRASIS_THREADS,
    engineBytes: set.ENKRASIS_ENGINE_MB * 2 ** 20,
    worksHere: set.ENKRASIS_WORK === 'here',
  }
}
