import tseslint from 'typescript-eslint';
import hooks from 'eslint-plugin-react-hooks';

/** Fields of records that are stored, sent or exported say what they are: shape, unit, what nothing means. */
const documentedFields = {
  create: (context) => ({
    'ExportNamedDeclaration > TSInterfaceDeclaration > TSInterfaceBody > TSPropertySignature'(node) {
      const last = context.sourceCode.getCommentsBefore(node).at(-1);
      if (last?.type !== 'Block' || !last.value.startsWith('*'))
        context.report({ node, message: 'Say what this field is: it is stored, sent or exported.' });
    },
  }),
};

export default tseslint.config(
  { ignores: ['**/node_modules/**', 'core/wasm/**', 'dist/**', 'data/**', '**/*.json', '**/*.cjs'] },
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/no-non-null-assertion': 'off',
      'no-console': 'off',
      'max-len': [
        'error',
        { code: 140, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true },
      ],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  {
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'no-console': 'error', 'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer'] },
  },
  {
    files: [
      'core/src/*/records.ts',
      'core/src/documents/{bill,components,intentions,recipeFile,sheetSet}.ts',
      'core/src/formats/billText.ts',
      'core/src/sheets/{paper,titleBlock}.ts',
      'server/src/store/entities.ts',
    ],
    plugins: { house: { rules: { 'documented-fields': documentedFields } } },
    rules: { 'house/documented-fields': 'error' },
  },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'warn' },
  },
);
