import type { ParseKeys } from "i18next";
import type { ReactElement } from "react";
import { Trans as Composed } from "react-i18next";

import type * as en from "./en";

type Rooms = (keyof typeof en)[];

interface TransProps {
  i18nKey: ParseKeys<Rooms>;
  /** What stands for the tags in the words. */
  components: Record<string, ReactElement>;
  values?: Record<string, string | number>;
}

/** Words with elements among them: `Nobody is here. <go>Begin</go>`. */
export function Trans({ i18nKey, components, values = {} }: TransProps) {
  return (
    <Composed<TransProps["i18nKey"], Rooms>
      i18nKey={i18nKey}
      components={components}
      values={values}
    />
  );
}
