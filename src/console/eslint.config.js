import tseslint from "typescript-eslint";

export default tseslint.config({ ignores: ["src/contract/schema.d.ts", "node_modules"] }, tseslint.configs.recommended);
