import type { ReactElement } from "react";
import { Trans as Composed } from "react-i18next";

import type { WordKey } from "./keys";

interface TransProps {
  i18nKey: WordKey;
  /** What stands for the tags in the words. */
  components: Record<string, ReactElement>;
  values?: Record<string, string | number>;
}

/** Words with elements among them: `Nobody is here. <go>Begin</go>`. */
export function Trans({ i18nKey, components, values = {} }: TransProps) {
  // As one of a thousand literals it takes the compiler seconds.
  const key: string = i18nKey;
  return <Composed i18nKey={key} components={components} values={values} />;
}
