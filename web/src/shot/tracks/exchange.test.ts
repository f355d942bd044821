import { applyEdit } from '../../../../core/shot'
import { smallShot } from '../../../../core/test/small-shot'
import { textOf, tracksIn } from './exchange'

test('tracks that are exported and imported are the same but for their ids; what has no errors was set by hand', () => {
  const own = Object.values(smallShot.tracks.byId)
  const text = textOf(own, 'csv')
  expect(text.split('\n').slice(0, 3)).toEqual([
    'track,frame,x,y,across,down,likeness',
    'Corner,1001,60.5,70.5,,,',
    'Corner,1002,63,70,0.03,0.04,0.98',
  ])
  const { shot, label } = applyEdit(smallShot, tracksIn(smallShot, text, 'tracks.csv'))
  expect(label).toBe('Import a track from tracks.csv')
  const added = Object.values(shot.tracks.byId).find(({ id }) => id !== 'corner')
  expect(added).toMatchObject({ name: 'Corner', points: own[0].points })
  expect(added && added.rank > own[0].rank).toBe(true)
})

test('as JSON they come back alike', () => {
  const own = Object.values(smallShot.tracks.byId)
  const { shot } = applyEdit(smallShot, tracksIn(smallShot, textOf(own, 'json'), 'Tracks.JSON'))
  expect(Object.values(shot.tracks.byId).find(({ id }) => id !== 'corner')).toMatchObject({ points: own[0].points })
})
