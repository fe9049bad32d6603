import i18next from "eslint-plugin-i18next";
import jsxA11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  // The sound's own thread knows other names than a page, and no types of ours.
  { ignores: ["dist", "src/api/schema.d.ts", "eslint.config.js", "**/*-worklet.js"] },
  ...tseslint.configs.recommendedTypeChecked,
  reactHooks.configs.flat.recommended,
  jsxA11y.flatConfigs.recommended,
  {
    // What a screen says stands with the words, not in its code.
    files: ["src/**/*.tsx"],
    plugins: { i18next },
    rules: {
      "i18next/no-literal-string": [
        "error",
        {
          mode: "jsx-only",
          "jsx-attributes": {
            include: ["aria-label", "title", "label", "hint", "caption", "placeholder", "words"],
          },
          callees: { exclude: [".*"] },
          // Signs and units are the same everywhere.
          words: { exclude: ["^[^A-Za-z]*$", "^\\W*(s|ms|cm|min|kJ|MB)\\W*$"] },
        },
      ],
    },
  },
  {
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      "@typescript-eslint/no-misused-promises": [
        "error",
        { checksVoidReturn: { attributes: false } },
      ],
    },
  },
  {
    // Nor does it stand in what a screen's parts are told, nor in sentences put together by hand.
    files: ["src/**/*.ts", "src/**/*.tsx"],
    rules: {
      "no-restricted-syntax": [
        "error",
        ...[
          "JSXAttribute:not([name.name=/class|^d$|^viewBox$|^style$|^on/i]) > Literal[value=/[A-Za-z],? [a-z]/]",
          ":not(ThrowStatement *):not(JSXAttribute[name.name=/class/i] *) > TemplateElement[value.raw=/^(?!.*[a-z]-[0-9[]).*[A-Za-z]{2,},? [a-z]{2,} [a-z]/]",
        ].map((selector) => ({ selector, message: "What is said stands with the words." })),
      ],
    },
  },
  // One direction only: features, components, domain, api.
  ...[
    ["api", ["domain", "components", "features"]],
    ["domain", ["components", "features"]],
    ["components", ["features"]],
    ["features", ["../[a-z]*/*"]],
  ].map(([room, above]) => ({
    files: [`src/${room}/**`],
    rules: {
      "no-restricted-imports": [
        "error",
        {
          patterns: above.map((name) => ({
            group: name.includes("*") ? [name, "!../../*"] : [`**/${name}/*`],
            message: "A room imports the rooms below it only.",
          })),
        },
      ],
    },
  })),
);
