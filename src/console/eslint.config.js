import jsxA11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["src/contract/schema.d.ts", "node_modules"] },
  tseslint.configs.recommended,
  jsxA11y.flatConfigs.recommended,
  // What was just opened takes the focus: forms and dialogs, never a page.
  { rules: { "jsx-a11y/no-autofocus": "off" } },
  {
    plugins: { "react-hooks": hooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
);
