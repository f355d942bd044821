import { heldUpByDisk } from './disk'
import { HeldUpError } from './kind'

const said = (code: string) => heldUpByDisk(Object.assign(new Error('write'), { code }), 'quay-010/v003')

test('a full disk holds the work up, and says for which folder room is to be made', () => {
  for (const code of ['ENOSPC', 'EDQUOT']) {
    expect(said(code)).toBeInstanceOf(HeldUpError)
    expect(said(code)?.message).toBe(
      'The disk is full: quay-010/v003 has no room for the next file. Make room; the work goes on by itself.',
    )
  }
})

test('a folder that cannot be written ends it, with what to check', () => {
  for (const code of ['EACCES', 'EPERM', 'EROFS']) {
    expect(said(code)).not.toBeInstanceOf(HeldUpError)
    expect(said(code)?.message).toBe(
      `The folder quay-010/v003 cannot be written (${code}). Check its permissions and retry.`,
    )
  }
})

test('what is no word of the disk is left to others', () => {
  expect(said('ENOENT')).toBeNull()
  expect(heldUpByDisk(null, 'x')).toBeNull()
  expect(heldUpByDisk(new Error('else'), 'x')).toBeNull()
})
