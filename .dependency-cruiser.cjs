/** Imports point one way: app, cli -> ui, server -> store, git -> core. core imports nothing of ours outside core. */
const may = (from, to) => ({
  name: `${from}-imports-only-${to.join("-") || "itself"}`,
  severity: "error",
  from: { path: `^src/${from}/`, pathNot: "\\.test\\.tsx?$" },
  to: { path: "^(src|demo|tests)/", pathNot: `^src/(${[from, ...to].join("|")})/` },
});

module.exports = {
  forbidden: [
    {
      name: "no-cycles",
      severity: "error",
      from: {},
      to: { circular: true },
    },
    may("core", []),
    may("git", ["core"]),
    may("store", ["core"]),
    may("server", ["store", "git", "core"]),
    may("ui", ["core"]),
    may("cli", ["server", "store", "git", "core"]),
    may("app", ["ui", "server", "core"]),
    {
      name: "core-does-no-io",
      severity: "error",
      from: { path: "^src/core/", pathNot: "\\.test\\.ts$" },
      to: { dependencyTypes: ["core"] },
    },
    {
      name: "only-git-and-the-runner-start-processes",
      severity: "error",
      from: {
        path: "^src/",
        pathNot:
          "^src/git/|^src/cli/(editor|here/clone-house)\\.ts$|^src/server/checks/(run-command|jail)\\.ts$|\\.test\\.ts$",
      },
      to: { path: "^(node:)?child_process$" },
    },
    {
      name: "resolvable",
      severity: "error",
      from: {},
      to: { couldNotResolve: true, pathNot: "^\\./[^/]*\\.css$|^virtual:routes$" },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "require", "node", "default", "types"],
    },
  },
};
