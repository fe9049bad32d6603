/** German, begun; what is missing is said in English. */

export { default as account } from "./account.json";
export { default as app } from "./app.json";
export { default as common } from "./common.json";
export { default as components } from "./components.json";
export { default as films } from "./films.json";
export { default as today } from "./today.json";
