/** Which part of the web may know which: the document knows neither React nor the browser. */
const rule = (name, from, to) => ({ name, severity: "error", from: { path: from }, to: { path: to } });

module.exports = {
  forbidden: [
    rule("the document is plain data", "^src/document", "node_modules/(react|zustand|@tanstack)|^src/(bench|stage|sheet|tray|screens|ui|icons)"),
    rule("the API knows no screen", "^src/api", "^src/(bench|stage|sheet|tray|screens|ui|icons)"),
    rule("icons know nothing", "^src/icons", "^src/(?!icons)"),
    rule("controls know no sheet and no bench", "^src/ui", "^src/(?!ui|icons)"),
    rule("the bench's state and commands know no panel", "^src/bench", "^src/(stage|sheet|tray|ruler|screens)"),
    rule("the tray knows no stage and no sheet", "^src/tray", "^src/(stage|sheet|ruler|screens)"),
    rule("the ruler knows no other panel", "^src/ruler", "^src/(stage|sheet|tray|screens)"),
    rule("panels know no screen", "^src/(stage|sheet|tray|ruler|bench)", "^src/screens"),
    { name: "no circles", severity: "error", from: {}, to: { circular: true } },
  ],
  options: { doNotFollow: { path: "node_modules" }, tsPreCompilationDeps: true, tsConfig: { fileName: "tsconfig.json" } },
};
