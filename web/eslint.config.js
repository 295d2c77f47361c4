import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["src/api/schema.d.ts", "dist"] },
  ...tseslint.configs.recommendedTypeChecked,
  { languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } } },
  hooks.configs.flat["recommended-latest"] ?? hooks.configs["recommended-latest"],
  a11y.flatConfigs.recommended,
  {
    rules: {
      // A deed keeps its error for display; a handler that returns its promise loses nothing.
      "@typescript-eslint/no-misused-promises": ["error", { checksVoidReturn: { attributes: false } }],
      "@typescript-eslint/only-throw-error": [
        "error",
        { allow: [{ from: "package", package: "@tanstack/router-core", name: "Redirect" }] },
      ],
      // A page is read in one go, a component at a glance.
      "max-lines": ["error", 400],
      "max-lines-per-function": ["error", { max: 150, IIFEs: true }],
      "jsx-a11y/no-autofocus": ["error", { ignoreNonDOM: true }],
      "jsx-a11y/role-supports-aria-props": "off", // does not know aria-description, which every role supports
    },
  },
  { files: ["src/**/*.test.ts"], rules: { "@typescript-eslint/unbound-method": "off", "max-lines-per-function": "off" } },
);
