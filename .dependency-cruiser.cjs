/** Imports go one way (docs/decisions/0001-rooms.md). */
const own = '^(core|formats|server|web|standin|e2e|bench)/'
const only = (room, allowed) => ({
  name: `${room}-imports-only-${allowed.join('-') || 'itself'}`,
  severity: 'error',
  from: { path: `^${room}/` },
  to: { path: own, pathNot: `^(${[room, ...allowed].join('|')})/` },
})
const order = [
  'algebra',
  'kernels',
  'image',
  'colour',
  'graph',
  'motion',
  'outline',
  'treatments',
  'set',
  'look',
  'measure',
  'track',
  'lens',
  'match',
  'shot',
  'work',
  'delivery',
  'plan',
  'witnesses',
  'check',
  'new-shot',
  'engine',
  'score',
]
const layers = order.slice(0, -1).map((layer, i) => ({
  name: `core-${layer}-knows-only-what-is-below`,
  severity: 'error',
  from: { path: `^core/${layer}/`, pathNot: '\\.test\\.ts$' },
  to: { path: `^core/(${order.slice(i + 1).join('|')})/` },
}))
module.exports = {
  forbidden: [
    only('core', []),
    { ...only('formats', ['core/image']), name: 'formats-imports-only-core-image' },
    only('server', ['core', 'formats']),
    only('web', ['core', 'formats']),
    only('standin', ['core', 'formats']),
    ...layers,
    {
      name: 'truth-is-for-the-score-only',
      comment: 'Whatever matches must not know what the stand-in camera knows.',
      severity: 'error',
      from: { pathNot: '^(core/score/|server/commands/score|server/command-line)|\\.test\\.ts$' },
      to: { path: '^(core/score/|server/commands/score)' },
    },
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-is-pure',
      comment: 'No Node API in the computation.',
      severity: 'error',
      from: { path: '^(core|formats)/', pathNot: '\\.test\\.ts$|/test/' },
      to: { dependencyTypes: ['core'] },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
  },
}
