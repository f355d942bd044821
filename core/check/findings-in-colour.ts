/** What does not fit in how a source's code values are read: encoding, primaries, alpha. */

import { encodings, primaries, type EncodingName } from '../colour'
import { isPicture, type Check, type Draft } from './finding'

/** A candidate is preferred to the claim when it is better by this, in stops. */
const clearlyBetter = 1

export const encoding: Check = ({ source, report, header, uses }) => {
  if (!isPicture(uses) || !report.encodings) return []
  const claimed = source.claims.encoding
  const setTo = (name: EncodingName): Draft['fix'] => ({
    label: `Read it as ${encodings[name].label}`,
    edit: { kind: 'set-claims', source: source.id, claims: { encoding: name } },
  })
  const [best] = report.encodings
  const own = report.encodings.find((candidate) => candidate.encoding === claimed)
  const familyClaimed = encodings[claimed].family
  if (own && own.cost - best.cost > clearlyBetter && encodings[best.encoding].family !== familyClaimed) {
    const [low, high] = report.levels ?? [0, 1]
    const looks =
      encodings[best.encoding].family === 'linear'
        ? 'scene-linear'
        : low > 0.05 && high < 0.9
          ? 'log'
          : 'display-encoded'
    return [
      {
        kind: `looks-${looks}`,
        severity: 'wrong',
        what: `It looks ${looks}, and is read as ${encodings[claimed].label}`,
        where: `code values from ${low.toFixed(3)} to ${high.toFixed(3)}`,
        why: 'Every sum of light is wrong: blacks float or sink, edges and blurs go dark or bright.',
        fix: setTo(header.says.encoding && header.says.encoding !== claimed ? header.says.encoding : best.encoding),
      },
    ]
  }
  const says = header.says.encoding
  if (says === null || says === claimed) return []
  return [
    {
      kind: 'encoding-said',
      severity: 'look',
      what: `The file says ${encodings[says].label}, and is read as ${encodings[claimed].label}`,
      where: 'the whole source',
      why: 'One of the two is wrong; the wedge shows both.',
      fix: setTo(says),
    },
  ]
}

export const primariesSaid: Check = ({ source, header, uses }) => {
  const said = header.says.primaries
  if (!isPicture(uses) || said === null || said === source.claims.primaries) return []
  return [
    {
      kind: 'primaries',
      severity: 'wrong',
      what: `The file says ${primaries[said].label}, and is read as ${primaries[source.claims.primaries].label}`,
      where: 'the whole source',
      why: 'Saturation and hue are off, most where colours are strong.',
      fix: {
        label: `Read it as ${primaries[said].label}`,
        edit: { kind: 'set-claims', source: source.id, claims: { primaries: said } },
      },
    },
  ]
}

export const alpha: Check = ({ source, report, header, uses }) => {
  if (!uses.some(({ takes }) => takes === 'rgba')) return []
  const claimed = source.claims.alpha
  const setTo = (kind: 'premultiplied' | 'straight'): Draft['fix'] => ({
    label: `Read its alpha as ${kind}`,
    edit: { kind: 'set-claims', source: source.id, claims: { alpha: kind } },
  })
  if (claimed === 'none')
    return header.says.alpha === 'none'
      ? []
      : [
          {
            kind: 'alpha-unused',
            severity: 'look',
            what: 'The file has an alpha that is not read',
            where: 'the whole source',
            why: 'What is blended over covers the whole frame.',
            fix: setTo(report.alpha?.kind ?? 'premultiplied'),
          },
        ]
  const measured = report.alpha?.kind
  if (!measured || measured === claimed) return []
  return [
    {
      kind: `looks-${measured}`,
      severity: 'wrong',
      what: `Its alpha looks ${measured}, and is read as ${claimed}`,
      where: `${report.alpha?.pixels} edge pixels, ${Math.round((report.alpha?.agree ?? 0) * 100)} % of them`,
      why: measured === 'straight' ? 'Edges get a bright fringe.' : 'Edges get a dark fringe.',
      fix: setTo(measured),
    },
  ]
}
