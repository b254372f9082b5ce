import svelte from "eslint-plugin-svelte";
import ts from "typescript-eslint";

export default ts.config(
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  {
    files: ["**/*.svelte", "**/*.svelte.ts"],
    languageOptions: { parserOptions: { parser: ts.parser } },
  },
  {
    rules: {
      // The service renders and sanitises doc text; Html.svelte is the one place that shows it.
      "svelte/no-at-html-tags": "error",
      "svelte/no-navigation-without-resolve": "off",
      "no-restricted-imports": [
        "error",
        { patterns: [{ group: ["../../*/features/*", "../*/state*"], message: "A feature keeps to itself." }] },
      ],
    },
  },
);
