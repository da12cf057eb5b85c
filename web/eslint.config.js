import vue from 'eslint-plugin-vue'
import reach from 'eslint-plugin-vuejs-accessibility'
import prettier from 'eslint-config-prettier'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist/**', 'src/api/schema.d.ts'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  ...reach.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      // Labels stand in FormField, which ties them to their field by its number.
      'vuejs-accessibility/label-has-for': ['error', { required: { some: ['nesting', 'id'] } }],
      'vuejs-accessibility/form-control-has-label': 'off', // it does not see the labels of FormField; axe does
      'vuejs-accessibility/no-autofocus': 'off', // a new thing begins at its name; dialogs say where they begin
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      'vue/max-lines-per-block': ['error', { template: 200, script: 200, skipBlankLines: true }],
    },
  },
  prettier,
)
