/** What is done with the chosen elements, from the menu of the column and from the keyboard. */

import {
  copyElements,
  copyTreatments,
  duplicateElements,
  find,
  group,
  isGroup,
  movable,
  pasteElements,
  pasteTreatments,
  readCopied,
  readCopiedTreatments,
  removeAll,
  step,
  ungroup,
  type Shot,
  type SingleChange,
  type UseOwner,
} from '../../../../core/shot'
import type { AppStore } from '../../store'
import { selectDocument, selectElementId, selectElementIds } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

export type ElementAct = (state: RootState, dispatch: AppStore['dispatch']) => void

type WithShot = (shot: Shot, ids: readonly string[], dispatch: AppStore['dispatch'], primary: string | null) => void

const onChosen =
  (act: WithShot): ElementAct =>
  (state, dispatch) => {
    const shot = selectDocument(state)
    if (shot) act(shot, selectElementIds(state), dispatch, selectElementId(state))
  }

const moved = (way: 'nearer' | 'farther') =>
  onChosen((shot, _ids, dispatch, primary) => {
    const edit = primary === null ? null : step(shot, primary, way)
    if (edit) dispatch(shotActions.edited(edit))
  })

/** The clipboard may be refused by the browser; then the text is kept here for this page. */
let kept = ''

async function write(text: string): Promise<void> {
  kept = text
  await navigator.clipboard?.writeText(text).catch(() => undefined)
}

async function read(): Promise<string> {
  return (await navigator.clipboard?.readText().catch(() => kept)) ?? kept
}

/** Treatments go onto everything that is selected, elements in front of it. @param text from the clipboard */
export function paste(
  text: string,
  shot: Shot,
  before: string | null,
  dispatch: AppStore['dispatch'],
  onto: readonly UseOwner[] = before === null ? [] : [{ kind: 'element', id: before }],
): void {
  try {
    const treatments = readCopiedTreatments(text)
    if (treatments) {
      const { edit, added } = pasteTreatments(shot, treatments, onto)
      dispatch(shotActions.edited(edit))
      nameAdded(added, dispatch)
      return
    }
    const pasted = pasteElements(shot, readCopied(text), before)
    dispatch(shotActions.edited(pasted.edit))
    dispatch(shotActions.elementsSelected(pasted.ids))
    nameAdded(pasted.added, dispatch)
  } catch (error) {
    dispatch(shotActions.noticed(error instanceof Error ? error.message : String(error)))
  }
}

function nameAdded(added: readonly string[], dispatch: AppStore['dispatch']): void {
  if (added.length === 0) return
  dispatch(
    shotActions.noticed(
      `This shot had no source for ${added.join(', ')}. It was added; if its files lie elsewhere, set its path on its card.`,
    ),
  )
}

/** One treatment as text. */
export const copyTreatment = (shot: Shot, use: string) => write(JSON.stringify(copyTreatments(shot, [use]), null, 2))

/** What a pasted treatment is used on: every selected element, or glass, sensor or finish. */
function ontoSelected({ primary, also }: RootState['shot']['selection']): UseOwner[] {
  return [...(primary ? [primary] : []), ...also].flatMap(({ kind, id }): UseOwner[] =>
    kind === 'element' ? [{ kind, id }] : kind === 'glass' || kind === 'sensor' || kind === 'finish' ? [{ kind }] : [],
  )
}

export const elementActs = {
  duplicate: onChosen((shot, ids, dispatch) => {
    const made = duplicateElements(shot, ids)
    if (!made) return
    dispatch(shotActions.edited(made.edit))
    dispatch(shotActions.elementsSelected(made.ids))
  }),
  group: onChosen((shot, ids, dispatch) => {
    const made = group(shot, ids, 'Group')
    if (!made) return
    dispatch(shotActions.edited(made.edit))
    dispatch(shotActions.selected(made.id))
  }),
  ungroup: onChosen((shot, _ids, dispatch, primary) => {
    const element = primary === null ? undefined : find(shot.elements, primary)
    const edit = element && isGroup(element) ? ungroup(shot, element.id) : null
    if (edit) dispatch(shotActions.edited(edit))
  }),
  remove: onChosen((shot, ids, dispatch) => {
    const edit = removeAll(shot, ids)
    if (!edit) return
    dispatch(shotActions.edited(edit))
    dispatch(shotActions.selected(shot.plate))
  }),
  toggle: onChosen((shot, ids, dispatch, primary) => {
    const element = primary === null ? undefined : find(shot.elements, primary)
    const changes = movable(shot, ids).map(({ id }): SingleChange => ({
      kind: 'show-element',
      element: id,
      visible: !(element?.visible ?? false),
    }))
    if (changes.length > 0) dispatch(shotActions.edited({ kind: 'together', changes }))
  }),
  nearer: moved('nearer'),
  farther: moved('farther'),
  copy: onChosen((shot, ids) => void write(JSON.stringify(copyElements(shot, ids), null, 2))),
  paste: (state, dispatch) => {
    const shot = selectDocument(state)
    if (!shot) return
    const onto = ontoSelected(state.shot.selection)
    void read().then((text) => paste(text, shot, selectElementId(state), dispatch, onto))
  },
} satisfies Record<string, ElementAct>
