import vue from "eslint-plugin-vue";
import accessibility from "eslint-plugin-vuejs-accessibility";
import typescript from "typescript-eslint";

export default typescript.config(
  { ignores: ["**/dist", "**/api/schema.ts"] },
  ...typescript.configs.recommended,
  ...vue.configs["flat/essential"],
  ...accessibility.configs["flat/recommended"],
  {
    files: ["**/*.vue"],
    languageOptions: { parserOptions: { parser: typescript.parser } },
    // What is longer is two things.
    rules: { "max-lines": ["error", 250] },
  },
  {
    rules: {
      // Prettier breaks what can be broken; a sentence stays one line.
      "vue/max-len": [
        "error",
        {
          code: 120,
          template: 120,
          ignoreStrings: true,
          ignoreTemplateLiterals: true,
          ignoreRegExpLiterals: true,
          ignoreHTMLAttributeValues: true,
          ignoreHTMLTextContents: true,
        },
      ],
      // vue-tsc tells of names that are not there, with the globals of browsers.
      "no-undef": "off",
      "vuejs-accessibility/label-has-for": [
        "error",
        {
          controlComponents: ["NumberField", "InputText", "InputNumber", "Select", "Slider"],
          required: { some: ["nesting", "id"] },
        },
      ],
      // What is dragged has its keys beside it; axe looks at every view as it is.
      "vuejs-accessibility/no-static-element-interactions": "off",
      // A field that was just asked for is where the next key goes; clips have nothing to be read.
      "vuejs-accessibility/no-autofocus": "off",
      "vuejs-accessibility/media-has-caption": "off",
    },
  },
);
