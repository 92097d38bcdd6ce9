// Arrows point down: core <- contract <- server, web; demo writes through the server's services; never server <-> web.
const from = (path, not) => ({ path, ...(not ? { pathNot: not } : {}) });
const rule = (name, comment, f, to) => ({ name, comment, severity: 'error', from: f, to });
const TEST = '[.]test[.]tsx?$';

module.exports = {
  forbidden: [
    rule('no-cycles', 'No cycles, type imports included.', {}, { circular: true }),
    rule('core-imports-nothing-of-ours', 'The core is the lowest room.', from('^src/core'), { path: '^src/(?!core)' }),
    rule('core-is-pure', 'No Node in the core.', from('^src/core', TEST), { dependencyTypes: ['core'] }),
    rule('core-no-interface', 'No interface or storage packages in the core.', from('^src/core'), {
      path: 'node_modules/(react|fastify|typeorm|zod|bootstrap)',
    }),
    rule('contract-knows-core-only', 'Contract stands on the core.', from('^src/contract'), {
      path: '^src/(?!core|contract)',
    }),
    rule(
      'server-below',
      'The server knows contract and core; only its entry composes the demo.',
      from('^src/server', '^src/server/main[.]ts$|' + TEST),
      {
        path: '^src/(web|demo)',
      },
    ),
    rule('web-below', 'The web knows contract and core.', from('^src/web'), { path: '^src/(server|demo)' }),
    rule(
      'server-doors',
      'No room of the server knows another: they share the collection, the database and the registry of acts.',
      from('^src/server/(bench|book|clay|devices|drift|advice|pots|round|season|shelf|shell)/', TEST),
      {
        path: '^src/server/(bench|book|clay|devices|drift|advice|pots|round|season|shelf|shell)/',
        pathNot: '^src/server/$1/',
      },
    ),
    rule(
      'acts-come-together-once',
      'An act is reached through the registry; only its own room names it.',
      from('^src/server/(?!acts[.]ts)([^/]+)', TEST),
      {
        path: '^src/server/([^/]+)/acts/',
        pathNot: '^src/server/$1/',
      },
    ),
    rule(
      'collection-below',
      'The collection stands on the database, contract and core.',
      from('^src/server/(collection|database)/', TEST),
      {
        path: '^src/server/(?!collection/|database/|app-error[.]ts)',
      },
    ),
    rule('demo-below', 'The demo writes through the server, never the web.', from('^src/demo'), { path: '^src/web' }),
    rule(
      'web-doors',
      'A capability is entered through its index; routes load rooms there too.',
      from('^src/web/(round|bench|pots|clay|season|shelf|book|drift|start)/', TEST),
      {
        path: '^src/web/(round|bench|pots|clay|season|shelf|book|drift|start)/',
        pathNot: '^src/web/$1/|/index[.]ts$',
      },
    ),
    rule('core-doors', 'A room of the core is entered through its index.', from('^src/core/([^/]+)/'), {
      path: '^src/core/([^/]+)/',
      pathNot: '^src/core/$1/|/index[.]ts$',
    }),
    rule(
      'truth-is-hidden',
      'What simulated pens truly read is known to the devices and the maker of the demo alone.',
      from('^src', '^src/(server/devices|demo)/|' + TEST),
      { path: 'simulated-(truth|clay)' },
    ),
    rule(
      'simulation-apart',
      'Nothing that estimates may use a simulator; the practice bucket is one, and is kept apart.',
      from('^src/(core/(?!simulation)|web/(?!bench/practice/)|server/(?!devices))', TEST),
      {
        path: '^src/core/simulation',
      },
    ),
    rule(
      'no-orphan-packages',
      'Only packages named in package.json.',
      {},
      { dependencyTypes: ['npm-no-pkg', 'npm-unknown'] },
    ),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      extensions: ['.ts', '.tsx', '.js', '.json'],
    },
  },
};
