/** The direction of imports: web → contract → core; server → contract → core; core → nothing of ours. */
const areas = ['people', 'matters', 'docket', 'tasks', 'papers', 'time', 'billing', 'ledger', 'firm']
module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'core-alone', severity: 'error', from: { path: '^packages/core/src' }, to: { path: '^(packages/contract|apps|demo)' } },
    { name: 'core-without-io', severity: 'error', from: { path: '^packages/core/src' }, to: { dependencyTypes: ['core'] } },
    { name: 'contract-only-core', severity: 'error', from: { path: '^packages/contract' }, to: { path: '^(apps|demo)' } },
    { name: 'web-not-server', severity: 'error', from: { path: '^apps/web' }, to: { path: '^(apps/server|demo)' } },
    { name: 'server-not-web', severity: 'error', from: { path: '^apps/server/src' }, to: { path: '^(apps/web|demo)' } },
    ...areas.map((area) => ({
      name: `only-through-index-of-${area}`,
      comment: 'An area reaches another only through its index; tables are declared together in platform, and set-up fills those of a new firm.',
      severity: 'error',
      from: { path: '^apps/server/src', pathNot: `^apps/server/src/(${area}/|platform/entities\\.ts|firm/set-up\\.ts)` },
      to: { path: `^apps/server/src/${area}/`, pathNot: `^apps/server/src/${area}/index\\.ts` },
    })),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(/dist/|\\.test\\.ts$|/test/)' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'], extensions: ['.ts', '.js', '.vue', '.json'] },
  },
}
