/** English, complete: a file a room, in it a part a source file. */

export { default as account } from "./account.json";
export { default as api } from "./api.json";
export { default as app } from "./app.json";
export { default as bench } from "./bench.json";
export { default as calendar } from "./calendar.json";
export { default as common } from "./common.json";
export { default as components } from "./components.json";
export { default as domain } from "./domain.json";
export { default as drill } from "./drill.json";
export { default as films } from "./films.json";
export { default as findings } from "./findings.json";
export { default as logbook } from "./logbook.json";
export { default as next } from "./next.json";
export { default as plan } from "./plan.json";
export { default as report } from "./report.json";
export { default as second_look } from "./second_look.json";
export { default as today } from "./today.json";
export { default as yard } from "./yard.json";
