/** The arrows of docs/decisions/0001-layers.md: core computes, services decide, pages show. */
module.exports = {
  forbidden: [
    { name: "core-is-pure", severity: "error", from: { path: "^src/core" }, to: { path: "^(src/(?!core)|demo|tests|tools)" } },
    { name: "core-no-node", severity: "error", from: { path: "^src/core" }, to: { dependencyTypes: ["core"] } },
    { name: "core-few-libraries", severity: "error", from: { path: "^src/core" }, to: { path: "node_modules/(?!(fft\\.js|saxes|xmlchars|fflate|midi-file|papaparse|ical\\.js|ts-fsrs)/)" } },
    { name: "data-below-services", severity: "error", from: { path: "^src/data" }, to: { path: "^src/(services|pages|views|ui|client|cli|workers)/" } },
    { name: "services-below-pages", severity: "error", from: { path: "^src/services" }, to: { path: "^src/(pages|views|ui|client|cli|workers)/" } },
    { name: "services-by-their-door", comment: "One service uses another through its index; schema and wire are its words.", severity: "error", from: { path: "^src/services/([^/]+)/" }, to: { path: "^src/services/[^/]+/", pathNot: ["^src/services/$1/", "/(index|schema|wire)\\.ts$"] } },
    { name: "pages-by-the-door", severity: "error", from: { path: "^(src/(pages|cli|workers)|demo)/" }, to: { path: "^src/services/[^/]+/", pathNot: "/(index|schema|wire)\\.ts$" } },
    { name: "server-below-services", severity: "error", from: { path: "^src/server" }, to: { path: "^src/(services|pages|views|ui|client|cli)/" } },
    { name: "views-stay-in-browser", severity: "error", from: { path: "^src/(views|ui|client)" }, to: { path: "^src/(data|server|pages|cli)/" } },
    { name: "views-no-services", severity: "error", from: { path: "^src/(views|ui|client)" }, to: { path: "^src/services", pathNot: "/(schema|wire)\\.ts$" } },
    { name: "players-do-not-know-the-judge", severity: "error", from: { path: "^demo/(players|synth)" }, to: { path: "^src/core/listen" } },
    { name: "no-circular", severity: "error", from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "^(dist|var|\\.astro)" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: { exportsFields: ["exports"], conditionNames: ["import", "node", "default", "types"] },
  },
};
