/** The direction of imports: web → contract → core; server → contract → core; core → nothing of ours. */
/** Areas of the server, lowest first: one reaches those of lower ranks, never those of its own or a higher one. */
const ranks = [['fields'], ['people'], ['tasks', 'docket', 'notes', 'ledger'], ['time', 'costs'], ['billing', 'vendors'], ['papers'], ['matters'], ['imports'], ['firm'], ['oversight']]
const areas = ranks.flat()
module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'core-alone', severity: 'error', from: { path: '^packages/core/src' }, to: { path: '^(packages/contract|apps|demo)' } },
    { name: 'core-without-io', severity: 'error', from: { path: '^packages/core/src' }, to: { dependencyTypes: ['core'] } },
    { name: 'contract-only-core', severity: 'error', from: { path: '^packages/contract' }, to: { path: '^(apps|demo)' } },
    { name: 'web-not-server', severity: 'error', from: { path: '^apps/web' }, to: { path: '^(apps/server|demo)' } },
    { name: 'server-not-web', severity: 'error', from: { path: '^apps/server/src' }, to: { path: '^(apps/web|demo)' } },
    {
      name: 'platform-knows-no-area',
      comment: 'Areas hand what they bring to areas.ts, where the house is put together.',
      severity: 'error',
      from: { path: '^apps/server/src/platform/' },
      to: { path: '^apps/server/src/', pathNot: '^apps/server/src/platform/' },
    },
    {
      name: 'areas-are-known',
      comment: 'A new area gets its rank above.',
      severity: 'error',
      from: { path: '^apps/server/src/areas\\.ts' },
      to: { path: '^apps/server/src/', pathNot: `^apps/server/src/(platform|${areas.join('|')})/` },
    },
    {
      name: 'only-the-house-knows-all-areas',
      severity: 'error',
      from: { path: '^apps/server/src/[^/]+/' },
      to: { path: '^apps/server/src/(areas|index|main)\\.ts' },
    },
    ...areas.map((area) => ({
      name: `only-through-index-of-${area}`,
      comment: 'An area reaches another only through its index; set-up fills the tables of a new firm.',
      severity: 'error',
      from: { path: '^apps/server/src', pathNot: `^apps/server/src/(${area}/|firm/set-up\\.ts)` },
      to: { path: `^apps/server/src/${area}/`, pathNot: `^apps/server/src/${area}/index\\.ts` },
    })),
    ...ranks.flatMap((own, i) =>
      own.map((area) => ({
        name: `not-upward-from-${area}`,
        severity: 'error',
        from: { path: `^apps/server/src/${area}/` },
        to: { path: `^apps/server/src/(${ranks.slice(i).flat().filter((a) => a !== area).join('|') || 'none'})/` },
      })),
    ),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(/dist/|\\.test\\.ts$|/test/)' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'], extensions: ['.ts', '.js', '.vue', '.json'] },
  },
}
