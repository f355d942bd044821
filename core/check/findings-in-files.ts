/** What does not fit in a source's files and in when they serve: missing, unreadable, mixed, at another rate, too short. */

import { frameList, perSecond, rateText, type Check, type Draft } from './finding'

export const files: Check = ({ source, report }) => {
  const drafts: Draft[] = []
  const { missing, unreadable, misnamed, header, changes } = report
  if (missing.length > 0)
    drafts.push({
      kind: 'missing-frames',
      severity: source.missing ? 'look' : 'wrong',
      what: `${missing.length} ${missing.length === 1 ? 'frame is' : 'frames are'} missing inside its range`,
      where: frameList(missing),
      why:
        source.missing === 'repeat'
          ? 'The frame before is shown instead.'
          : source.missing === 'empty'
            ? 'Nothing is shown there.'
            : 'The picture stops there with an error.',
      fix: source.missing
        ? null
        : {
            label: 'Repeat the frame before',
            edit: { kind: 'set-source', source: source.id, changes: { missing: 'repeat' } },
          },
    })
  for (const { frame, sentence } of unreadable.slice(0, 5))
    drafts.push({
      kind: `unreadable-${frame ?? 'still'}`,
      severity: 'wrong',
      what: sentence,
      where: frameList([frame]),
      why: 'The frame cannot be shown or delivered.',
      fix: null,
    })
  if (misnamed && header)
    drafts.push({
      kind: 'misnamed',
      severity: 'look',
      what: `The name says ${misnamed}, the file is ${header.format.toUpperCase()}`,
      where: source.path,
      why: 'It is read for what it is here; other programs may refuse it or read it wrongly.',
      fix: null,
    })
  if (changes.length > 0)
    drafts.push({
      kind: 'changes',
      severity: 'wrong',
      what: `Its files are not alike: ${changes[0].what}`,
      where: frameList(changes.map(({ frame }) => frame)),
      why: 'Two renders or two clips were mixed: size, place or passes jump there.',
      fix: null,
    })
  return drafts
}

export const uneven: Check = ({ report: { decoded } }) => {
  if (!decoded || decoded.uneven.length === 0) return []
  const [first] = decoded.uneven
  const long = first.frames > 1 ? 'long' : 'short'
  return [
    {
      kind: 'uneven',
      severity: 'look',
      what: `Pictures of ${decoded.movie} last differently long`,
      where: `${frameList(decoded.uneven.map(({ picture }) => picture))} (${first.picture} is too ${long}: ${rateText(first.frames)} times the others)`,
      why: 'Each picture is one frame here, so movement goes quicker or slower there than it did. Export the movie at a constant rate, or set when its frames are shown.',
      fix: null,
    },
  ]
}

export const rate: Check = ({ shot, source, header }) => {
  const wanted = perSecond(shot.rate)
  const given = source.rate ? perSecond(source.rate) : header.says.rate
  if (given === null || !source.frames || Math.abs(given - wanted) < 0.002) return []
  return [
    {
      kind: 'rate',
      severity: 'wrong',
      what: `It runs at ${rateText(given)} frames a second, the shot at ${rateText(wanted)}`,
      where: 'the whole source',
      why: 'Frame for frame its movement drifts against the plate.',
      fix: {
        label: `Take it frame for frame at ${rateText(wanted)}`,
        edit: { kind: 'set-source', source: source.id, changes: { rate: shot.rate } },
      },
    },
  ]
}

export const range: Check = ({ shot, source, uses, report }) => {
  if (!source.frames || uses.length === 0) return []
  const { offset = 0, frames } = source
  const [first, last] = [frames.first + offset, frames.last + offset]
  const drafts: Draft[] = []
  if (first > shot.frames.first || last < shot.frames.last) {
    const length = shot.frames.last - shot.frames.first
    const moved = shot.frames.first - frames.first
    const fits = frames.last - frames.first >= length && moved !== offset
    drafts.push({
      kind: 'range',
      severity: 'wrong',
      what: `It covers shot frames ${first} to ${last}, the shot has ${shot.frames.first} to ${shot.frames.last}`,
      where: first > shot.frames.first ? `before frame ${first}` : `after frame ${last}`,
      why: 'Elements that read it are not there on those frames.',
      fix: fits
        ? {
            label: `Let file ${frames.first} serve frame ${shot.frames.first}`,
            edit: { kind: 'set-source', source: source.id, changes: { offset: moved } },
          }
        : null,
    })
  }
  const there = report.frames.filter((frame) => frame !== null)
  const beyond = there.filter((frame) => frame < frames.first || frame > frames.last)
  if (beyond.length > 0)
    drafts.push({
      kind: 'more-frames',
      severity: 'look',
      what: `There are ${beyond.length} more files than its range says`,
      where: frameList(beyond),
      why: 'They are not used; the range may have been taken before the render was done.',
      fix: {
        label: `Take all, ${Math.min(...there)} to ${Math.max(...there)}`,
        edit: {
          kind: 'set-source',
          source: source.id,
          changes: { frames: { first: Math.min(...there), last: Math.max(...there) } },
        },
      },
    })
  return drafts
}
