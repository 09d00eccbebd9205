/** Which part of the web may know which: the document knows neither React nor the browser. */
const rule = (name, from, to) => ({ name, severity: "error", from: { path: from }, to: { path: to } });

module.exports = {
  forbidden: [
    rule("the document is plain data", "^src/document", "node_modules/(react|zustand|@tanstack)|^src/(bench|stage|sheet|tray|screens|marks)"),
    rule("the API knows no screen", "^src/api", "^src/(bench|stage|sheet|tray|screens|marks)"),
    rule("marks know nothing", "^src/marks", "^src/(?!marks)"),
    rule("panels know no screen", "^src/(stage|sheet|tray|bench)", "^src/screens"),
    { name: "no circles", severity: "error", from: {}, to: { circular: true } },
  ],
  options: { doNotFollow: { path: "node_modules" }, tsPreCompilationDeps: true, tsConfig: { fileName: "tsconfig.json" } },
};
