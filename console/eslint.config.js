import svelte from "eslint-plugin-svelte";
import ts from "typescript-eslint";

/** Other ways in which a text could become part of a page, a script or an address. */
const SINKS = ["innerHTML", "outerHTML", "srcdoc", "insertAdjacentHTML", "setHTMLUnsafe", "createContextualFragment"];
const sinks = SINKS.flatMap((name) => [
  { selector: `MemberExpression[property.name='${name}']`, message: "Only Html.svelte puts HTML into a page." },
  { selector: `SvelteAttribute[key.name='${name}']`, message: "Only Html.svelte puts HTML into a page." },
]);

export default ts.config(
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  {
    files: ["**/*.svelte", "**/*.svelte.ts"],
    languageOptions: { parserOptions: { parser: ts.parser } },
  },
  {
    // No comment in a file may switch a rule off.
    linterOptions: { noInlineConfig: true },
    rules: {
      "no-eval": "error",
      "no-implied-eval": "error",
      "no-new-func": "error",
      "no-restricted-syntax": ["error", ...sinks],
      "no-restricted-properties": ["error", { object: "document", property: "write" }, { object: "document", property: "writeln" }],
      // The service renders and sanitises doc text; Html.svelte is the one place that shows it.
      "svelte/no-at-html-tags": "error",
      "svelte/no-navigation-without-resolve": "off",
      "no-restricted-imports": [
        "error",
        { patterns: [{ group: ["../../*/features/*", "../*/state*"], message: "A feature keeps to itself." }] },
      ],
    },
  },
  { files: ["src/lib/ui/Html.svelte"], rules: { "svelte/no-at-html-tags": "off" } },
);
