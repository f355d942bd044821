/** The proof as one page that needs nothing else: rows with their worst frames, pictures of those, the inspection strip. */

import { createElement as h, type ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import sharp from 'sharp'
import type { Engine } from '../../core/engine/engine'
import type { Step } from '../../core/graph/steps'
import type { ViewSettings } from '../../core/kernels/kernels'
import { inspectionBoard, lookAt, plainLook } from '../../core/look/looking'
import type { FramePlan } from '../../core/plan/plan'
import { workingSpaces } from '../../core/colour'
import type { Shot } from '../../core/shot'
import { rangeText, type Proof, type ProofNote, type ProofRow } from '../../core/witnesses'

/** Pictures of so many frames: of the rows that are farthest off. */
const mostFrames = 6
const pictureWidth = 560
/** Notes with a drawing that get a picture. */
const mostNotes = 12
const stripWidth = 224

const outcomes: Readonly<Record<Proof['outcome'], string>> = {
  agrees: 'All of it agrees',
  drifts: 'Something drifts',
  'not judged': 'Something is not judged yet',
}

const style = `
body { font: 14px/1.5 system-ui, sans-serif; background: #2b2b2b; color: #e2e2e2; margin: 32px auto; max-width: 1180px; padding: 0 16px }
h1 { font-size: 22px } h2 { font-size: 17px; margin-top: 32px } figure { display: inline-block; margin: 0 12px 12px 0 }
figcaption { color: #b5b5b5; font-size: 12px } table { border-collapse: collapse; width: 100%; font-variant-numeric: tabular-nums }
td, th { text-align: left; padding: 3px 12px 3px 0; border-bottom: 1px solid #454545; vertical-align: top } th { color: #b5b5b5; font-weight: normal }
`

/**
 * @param plan of a frame at full scale
 * @throws what making the pictures throws
 */
export async function proofPage(
  shot: Shot,
  proof: Proof,
  engine: Engine,
  plan: (frame: number) => FramePlan,
): Promise<string> {
  const frames = framesToShow(proof)
  const working = workingSpaces[shot.workingSpace]
  const window = { x: 0, y: 0, ...shot.frameSize }
  const picture = async (step: Step, view: ViewSettings, width: number) => {
    const bytes = await engine.view(step, window, view)
    const raw = { width: window.width, height: window.height, channels: 4 } as const
    const small = await sharp(bytes, { raw }).removeAlpha().resize({ width }).jpeg({ quality: 88 }).toBuffer()
    return `data:image/jpeg;base64,${small.toString('base64')}`
  }
  const shown = await Promise.all(
    frames.map(async (frame) => {
      const { composite } = plan(frame)
      if (!composite) return null
      const { step, view } = lookAt(composite, plainLook, working)
      return { frame, source: await picture(step, view, pictureWidth) }
    }),
  )
  const drawn = await Promise.all(
    proof.notes
      .filter(({ drawing }) => drawing)
      .slice(0, mostNotes)
      .map(async (note) => {
        const { composite } = plan(note.frame)
        if (!composite) return null
        const { step, view } = lookAt(composite, plainLook, working)
        return drawnOver(note, await picture(step, view, pictureWidth), shot.frameSize)
      }),
  )
  const [worst] = frames
  const strip: ReactElement[] = []
  const composite = worst === undefined ? null : plan(worst).composite
  if (composite)
    for (const {
      name,
      looked: { step, view },
    } of inspectionBoard(composite, plainLook, working))
      strip.push(figure(name, await picture(step, view, stripWidth), stripWidth))
  const page = h(
    'html',
    { lang: 'en' },
    h(
      'head',
      null,
      h('meta', { charSet: 'utf-8' }),
      h('title', null, `Proof of ${proof.shot}`),
      h('style', null, style),
    ),
    h(
      'body',
      null,
      h('h1', null, `Proof of ${proof.shot}: ${outcomes[proof.outcome]}`),
      h(
        'p',
        null,
        `Frames ${proof.first} to ${proof.last}${proof.revision === null ? '' : `, revision ${proof.revision}`}.`,
      ),
      ...proof.wanting.map((sentence) => h('p', { key: sentence }, sentence)),
      h('h2', null, 'Witnesses and checks'),
      table(proof.rows),
      ...(proof.notes.length > 0 ? [h('h2', { key: 'notes' }, 'Notes'), notes(proof)] : []),
      ...drawn.flatMap((one) => one ?? []),
      ...(frames.length > 0 ? [h('h2', { key: 'frames' }, 'Frames that are farthest off')] : []),
      ...shown.flatMap((one) => (one ? [figure(captionOf(proof, one.frame), one.source, pictureWidth)] : [])),
      ...(strip.length > 0 ? [h('h2', { key: 'strip' }, `Frame ${worst} in ten ways`), ...strip] : []),
    ),
  )
  return `<!doctype html>\n${renderToStaticMarkup(page)}\n`
}

function framesToShow({ rows, first }: Proof): number[] {
  const bad = rows.filter(({ drifts }) => drifts.length > 0).flatMap(({ worst }) => (worst ? [worst.frame] : []))
  const others = rows.flatMap(({ worst }) => (worst ? [worst.frame] : []))
  return [...new Set([...bad, ...others, first])].slice(0, mostFrames)
}

const captionOf = ({ rows }: Proof, frame: number): string =>
  [
    String(frame),
    ...rows
      .filter(({ drifts, worst }) => drifts.length > 0 && worst?.frame === frame)
      .map(({ name, worst }) => `${name}: ${worst?.says}`),
  ].join('. ')

const figure = (caption: string, source: string, width: number) =>
  h(
    'figure',
    { key: caption },
    h('img', { src: source, width, alt: caption }),
    h('figcaption', { style: { width } }, caption),
  )

/** The frame with what was drawn on it: a light line on a dark one. */
function drawnOver(
  { frame, text, drawing = [] }: ProofNote,
  source: string,
  { width, height }: Shot['frameSize'],
): ReactElement {
  const caption = `${frame}: ${text}`
  const thin = width / 400
  const line = { fill: 'none', strokeLinejoin: 'round', strokeLinecap: 'round' } as const
  return h(
    'figure',
    { key: `drawn ${caption}` },
    h(
      'div',
      { style: { position: 'relative', width: pictureWidth } },
      h('img', { src: source, width: pictureWidth, alt: caption }),
      h(
        'svg',
        { viewBox: `0 0 ${width} ${height}`, style: { position: 'absolute', inset: 0, width: '100%' } },
        ...drawing.flatMap((points, i) => [
          h('polyline', {
            ...{ ...line, key: `dark ${i}`, points: points.join(' ') },
            ...{ stroke: '#000', strokeWidth: 2 * thin, opacity: 0.55 },
          }),
          h('polyline', { ...line, key: `light ${i}`, points: points.join(' '), stroke: '#fff', strokeWidth: thin }),
        ]),
      ),
    ),
    h('figcaption', null, caption),
  )
}

function table(rows: readonly ProofRow[]): ReactElement {
  const head = ['', 'frames', 'drifts on', 'not judged on', 'farthest off']
  return h(
    'table',
    { key: 'rows' },
    h('thead', null, h('tr', null, ...head.map((text) => h('th', { key: text }, text)))),
    h(
      'tbody',
      null,
      ...rows.map(({ name, kind, frames, drifts, notJudged, worst }) =>
        h(
          'tr',
          { key: `${kind} ${name}` },
          ...[
            kind === 'witness' ? `Witness ${name}` : name,
            String(frames),
            rangeText(drifts),
            rangeText(notJudged),
            worst ? `${worst.frame}: ${worst.says}` : '',
          ].map((text, i) => h('td', { key: i }, text)),
        ),
      ),
    ),
  )
}

const notes = ({ notes: all }: Proof) =>
  h('ul', { key: 'list' }, ...all.map(({ frame, text }) => h('li', { key: `${frame} ${text}` }, `${frame}: ${text}`)))
