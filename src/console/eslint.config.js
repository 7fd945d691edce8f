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
  // What was just opened takes the focus: forms and dialogs, never a page.
  { rules: { "jsx-a11y/no-autofocus": "off" } },
  {
    plugins: { "react-hooks": hooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
);
