import type * as en from "./en";

/** A word with a count has two forms, `…_one` and `…_other`; it is asked for without either. */
type Asked<Key extends string, Words> = Key extends `${infer Name}_one`
  ? `${Name}_other` extends keyof Words
    ? Name
    : Key
  : Key extends `${infer Name}_other`
    ? `${Name}_one` extends keyof Words
      ? Name
      : Key
    : Key;

type KeysOf<Words> = {
  [Key in keyof Words & string]: Words[Key] extends string
    ? Asked<Key, Words>
    : `${Key}.${KeysOf<Words[Key]>}`;
}[keyof Words & string];

/** `room:part.name` of every word there is in English, which is complete. */
export type WordKey = {
  [Room in keyof typeof en]: `${Room}:${KeysOf<(typeof en)[Room]>}`;
}[keyof typeof en];
