/** The elements, far to near: chosen, moved by pointer or keyboard, renamed, and a menu of what else can be done. */

import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core'
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useCallback, useEffect, useMemo, useRef, useState, type MouseEvent } from 'react'
import { useStore } from 'react-redux'
import { elementsFound } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectElementId, selectElementIds } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { dropOn } from './drop-on'
import { ElementLine } from './element-line'
import { ElementMenu } from './element-menu'
import { chosenBetween } from './chosen-between'

// Made once: with new ones every line would be drawn anew.
/** So far the pointer goes before a press is a drag. */
const byPointer = { activationConstraint: { distance: 5 } }
const byKeyboard = { coordinateGetter: sortableKeyboardCoordinates }

/** @param wanted words of a name or a tag; nothing shows all */
export function ElementList({ wanted }: { wanted: string }) {
  const dispatch = useAppDispatch()
  // Nothing that a gesture changes is shown here.
  const shot = useAppSelector(selectDocument)
  const chosen = useAppSelector(selectElementIds)
  const primary = useAppSelector(selectElementId)
  const [renaming, setRenaming] = useState<string | null>(null)
  const [menu, setMenu] = useState<{ readonly x: number; readonly y: number } | null>(null)
  const list = useRef<HTMLDivElement>(null)
  const sensors = useSensors(useSensor(PointerSensor, byPointer), useSensor(KeyboardSensor, byKeyboard))
  const lines = useMemo(() => (shot ? elementsFound(shot, wanted) : []), [shot, wanted])
  // The same list as long as nothing comes, goes or moves: else every line would be drawn anew.
  const order = lines.map(({ element }) => element.id).join(' ')
  const ids = useMemo(() => (order === '' ? [] : order.split(' ')), [order])
  // What is new, or chosen elsewhere, is scrolled into sight.
  useEffect(() => {
    list.current?.querySelector('[data-primary]')?.scrollIntoView({ block: 'nearest' })
  }, [primary])
  const store = useStore<RootState>()
  const select = useCallback(
    (id: string, event: MouseEvent) => {
      const from = selectElementId(store.getState())
      if (event.shiftKey && from !== null) dispatch(shotActions.elementsSelected(chosenBetween(ids, from, id)))
      else if (event.ctrlKey || event.metaKey) dispatch(shotActions.alsoSelected({ kind: 'element', id }))
      else dispatch(shotActions.selected(id))
    },
    [dispatch, store, ids],
  )
  const openMenu = useCallback(
    (id: string, event: MouseEvent) => {
      event.preventDefault()
      if (!selectElementIds(store.getState()).includes(id)) dispatch(shotActions.selected(id))
      setMenu({ x: event.clientX, y: event.clientY })
    },
    [dispatch, store],
  )
  if (!shot) return null

  const drop = ({ active, over }: DragEndEvent) => {
    const moved = String(active.id)
    const edit = over && dropOn(shot, chosen.includes(moved) ? chosen : [moved], moved, String(over.id))
    if (edit) dispatch(shotActions.edited(edit))
  }
  return (
    <Box
      ref={list}
      role="group"
      aria-label="Elements, far to near"
      sx={{ overflow: 'auto', flexShrink: 1, minHeight: 60 }}
    >
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          {lines.map(({ element, depth }) => (
            <Box key={element.id} data-primary={element.id === primary ? '' : undefined}>
              <ElementLine
                element={element}
                depth={depth}
                isPlate={element.id === shot.plate}
                selected={chosen.includes(element.id)}
                primary={element.id === primary}
                renaming={renaming === element.id}
                onSelect={select}
                onMenu={openMenu}
                onRename={setRenaming}
              />
            </Box>
          ))}
        </SortableContext>
      </DndContext>
      {lines.length === 0 && (
        <Typography variant="caption" color="textSecondary" sx={{ px: 1 }}>
          No element has that in its name or tags.
        </Typography>
      )}
      <ElementMenu at={menu} onClose={() => setMenu(null)} onRename={() => setRenaming(primary)} />
    </Box>
  )
}
