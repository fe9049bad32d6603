import jsxA11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts", "eslint.config.js"] },
  ...tseslint.configs.recommendedTypeChecked,
  reactHooks.configs.flat.recommended,
  jsxA11y.flatConfigs.recommended,
  {
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      "@typescript-eslint/no-misused-promises": [
        "error",
        { checksVoidReturn: { attributes: false } },
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
