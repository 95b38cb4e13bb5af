import js from '@eslint/js'
import jsdoc from 'eslint-plugin-jsdoc'
import regexp from 'eslint-plugin-regexp'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

/** Words with which a statement, or a part of one, is told from a sentence. */
const statement = '^\\s*(SELECT|INSERT|UPDATE|DELETE|WITH|REPLACE|SHOW) |\\(SELECT | JOIN \\w+ \\w+ ON '

export default ts.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '.data/**', '**/*.cjs'] },
  js.configs.recommended,
  ...ts.configs.strict,
  ...vue.configs['flat/recommended'],
  {
    languageOptions: { globals: { ...globals.node, ...globals.browser } },
    plugins: { regexp },
    rules: {
      // An expression whose time grows faster than its input lets one request hold up all others.
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': ['error', { report: 'potential' }],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // Indexes that were just checked, and rows that a foreign key guarantees.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-dynamic-delete': 'off',
      '@typescript-eslint/no-extraneous-class': 'off',
      'no-constant-condition': ['error', { checkLoops: false }],
      'no-restricted-syntax': ['error', { selector: 'TSEnumDeclaration', message: 'Use a union of strings.' }],
      'max-lines': ['error', { max: 420, skipBlankLines: true }],
    },
  },
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser } },
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/first-attribute-linebreak': 'off',
      'vue/attributes-order': 'off',
      'vue/static-class-names-order': 'off',
    },
  },
  {
    // Money is added up by the server, or by core where it is just being typed: a figure has one definition.
    files: ['apps/web/src/**/*.{ts,vue}'],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: 'TSEnumDeclaration', message: 'Use a union of strings.' },
        {
          selector: "CallExpression[callee.property.name='reduce']",
          message: 'Sums come from the server; of what is typed, from ui/typed.',
        },
        {
          // It is also run without sending, to be judged as it is filled in.
          selector:
            "CallExpression[callee.name='useForm'] :matches(AssignmentExpression, UpdateExpression), CallExpression[callee.name='useForm'] > ArrowFunctionExpression[async=true]",
          message: 'The call of a form only puts together what is sent.',
        },
        {
          selector: "CallExpression[callee.name='dayText'] > CallExpression[callee.name='dayPart']",
          message: 'The day of a moment is its reader’s, not that of UTC: momentDay.',
        },
      ],
    },
  },
  {
    // Lists are the kit's: sorted, chosen, opened by keys and folded on a narrow screen in one way.
    files: ['apps/web/src/**/*.vue'],
    ignores: ['apps/web/src/ui/DataTable.vue'],
    rules: { 'vue/no-restricted-html-elements': ['error', { element: 'table', message: 'Use ui/DataTable.vue.' }] },
  },
  {
    files: ['apps/server/src/**/*.ts'],
    ignores: ['apps/server/src/platform/figures.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: 'TSEnumDeclaration', message: 'Use a union of strings.' },
        {
          selector: 'TemplateElement[value.raw=/SELECT SUM\\((al?\\.)?amount\\) FROM allocation|SELECT[^;]*bill_id IS NULL/]',
          message: 'What is open and unbilled is defined in platform/figures.ts.',
        },
        {
          selector: 'TemplateElement[value.raw=/DATE\\((\\w+\\.)?(\\w+_)?at\\)/]',
          message: 'The day of an instant is the firm’s, not that of UTC: ctx.clock.at, ctx.clock.beginOf.',
        },
      ],
    },
  },
  {
    // What is asked of the database in its own words stands together, apart from what decides by the answers. The house's own say what
    // a statement may see (access, acts), what a figure is (figures), and how one is sent (database).
    files: ['apps/server/src/**/*.ts'],
    ignores: ['**/*queries.ts', '**/migrations/**', 'apps/server/src/platform/{access,acts,database,figures}.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: 'TSEnumDeclaration', message: 'Use a union of strings.' },
        {
          selector: `:matches(TemplateElement[value.raw=/${statement}/], Literal[value=/${statement}/])`,
          message: 'Statements stand in files named queries; single rows go through the entity manager.',
        },
      ],
    },
  },
  {
    // What is asked of the database, and what core works out, says in words what it answers.
    files: ['apps/server/src/**/*queries.ts', 'packages/core/src/**/*.ts'],
    plugins: { jsdoc },
    rules: {
      'jsdoc/require-jsdoc': [
        'error',
        { publicOnly: true, enableFixer: false, require: { FunctionDeclaration: true, ArrowFunctionExpression: true } },
      ],
    },
  },
  { files: ['e2e/**/*.ts'], rules: { 'no-empty-pattern': 'off' } },
)
