/**
 * The floors of the interface, lowest first: each folder may import from those below it, types included, and no file may stand
 * in a circle. `npm run floors` checks it.
 */
const FLOORS = ["theme", "api", "model", "sync", "scene", "tools", "interaction", "viewport", "panels"];

/** Rooms that stand beside each other on one floor and do not know each other. */
const BESIDE = [["theme", "api"], ["sync", "scene"], ["sync", "tools"]];

/** Rooms of the model, lowest first, above its hall; those of one line do not know each other. */
const ROOMS = [["document"], ["steps", "picks"], ["places"], ["session"], ["shaping", "drawing", "brief", "wrap"]];

/** Rooms of interaction, lowest first, above its hall. */
const DEEDS = [["session"], ["brief", "curves", "parts", "picks", "surface", "wrap"], ["gestures"], ["keys"], ["pointing"]];

/** That each room knows only those below it, and none beside it. */
const roomsOf = (floor, rows) => rows.flatMap((rooms, i) => rooms.map((one) => ({
  name: `${floor}-${one}-knows-nothing-above`,
  severity: "error",
  from: { path: `^src/${floor}/${one}/` },
  to: { path: `^src/${floor}/(${[...rows.slice(i + 1).flat(), ...rooms.filter((r) => r !== one), "none"].join("|")})/` },
})));

const inside = (names) => `^src/(${names.join("|")})/`;

module.exports = {
  forbidden: [
    { name: "no-circles", severity: "error", from: {}, to: { circular: true } },
    ...FLOORS.slice(0, -1).map((floor, i) => ({
      name: `${floor}-knows-nothing-above`,
      severity: "error",
      from: { path: inside([floor]) },
      to: { path: `${inside(FLOORS.slice(i + 1))}|^src/(App|main)\\.tsx$` },
    })),
    ...BESIDE.flatMap(([a, b]) => [
      { name: `${a}-and-${b}-apart`, severity: "error", from: { path: inside([a]) }, to: { path: inside([b]) } },
      { name: `${b}-and-${a}-apart`, severity: "error", from: { path: inside([b]) }, to: { path: inside([a]) } },
    ]),
    { name: "hall-of-the-model-knows-no-room", severity: "error", from: { path: "^src/model/[^/]+$" }, to: { path: "^src/model/[^/]+/", pathNot: "^src/model/state/" } },
    { name: "state-of-the-model-knows-only-itself", severity: "error", from: { path: "^src/model/state/" }, to: { path: "^src/model/", pathNot: "^src/model/state/" } },
    ...roomsOf("model", ROOMS),
    { name: "hall-of-interaction-knows-no-room", severity: "error", from: { path: "^src/interaction/[^/]+$" }, to: { path: "^src/interaction/[^/]+/" } },
    ...roomsOf("interaction", DEEDS),
    { name: "drawing-needs-no-react", severity: "error", from: { path: inside(["scene", "tools", "interaction", "viewport"]) }, to: { path: "^node_modules/(react|antd)/" } },
    { name: "model-draws-nothing", severity: "error", from: { path: inside(["model"]) }, to: { path: "^src/(scene|viewport)/" } },
    { name: "nothing-unfound", severity: "error", from: {}, to: { couldNotResolve: true, pathNot: "\\.css$|^@fontsource" } },
  ],
  options: { doNotFollow: { path: "node_modules" }, tsPreCompilationDeps: true, tsConfig: { fileName: "tsconfig.json" } },
};
