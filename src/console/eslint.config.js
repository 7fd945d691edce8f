import jsxA11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["src/contract/schema.d.ts", "node_modules"] },
  tseslint.configs.recommended,
  {
    files: ["src/**/*.{ts,tsx}"],
    extends: [tseslint.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    // React waits for no handler: what a handler writes goes through useWrite, which shows what went wrong.
    rules: { "@typescript-eslint/no-misused-promises": ["error", { checksVoidReturn: { attributes: false } }] },
  },
  jsxA11y.flatConfigs.recommended,
  {
    settings: {
      "jsx-a11y": { components: { Input: "input", TextArea: "textarea", Select: "select", Table: "table" } },
    },
  },
  // What was just opened takes the focus: forms and dialogs, never a page.
  { rules: { "jsx-a11y/no-autofocus": "off" } },
  {
    plugins: { "react-hooks": hooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
  {
    files: ["src/**/*.tsx"],
    ignores: ["src/parts/**"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector: "JSXOpeningElement[name.name=/^(input|textarea|select|table)$/]",
          message: "A page is made of our own parts: take the one from parts/.",
        },
      ],
    },
  },
);
