import js from "@eslint/js";
import globals from "globals";

// The scripts lie outside this folder, so the configuration is brought to them: `npm run check` names its base.
export default [
  js.configs.recommended,
  {
    languageOptions: { globals: { ...globals.browser, Alpine: "readonly" } },
    rules: {
      eqeqeq: "error",
      "no-var": "error",
      "object-shorthand": "error",
      "prefer-const": "error",
      "no-restricted-syntax": [
        "error",
        {
          selector: "AssignmentExpression[left.object.type='MemberExpression'] > :matches(AwaitExpression, MemberExpression:has(AwaitExpression)).right",
          message: "What is assigned to is looked up before the wait, and may be another by then: wait first.",
        },
      ],
    },
  },
];
