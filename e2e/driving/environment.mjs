/** Where browser tests run: as usual, and when one fails its pages say what they show (`./chromium.ts`). */

import { TestEnvironment } from 'jest-environment-node'

export default class extends TestEnvironment {
  async handleTestEvent(event) {
    if (event.name === 'test_fn_failure') await this.global.tellOfPages?.(event.test.name)
  }
}
