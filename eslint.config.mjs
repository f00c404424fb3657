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

/** The same for what is sent: fields of schemas. A field that is one schema by its name says enough. */
const documentedSchemas = {
  create: (context) => ({
    'ExportNamedDeclaration > VariableDeclaration > VariableDeclarator > CallExpression[callee.property.name=/^(object|strictObject|looseObject)$/] > ObjectExpression > Property[shorthand=false]'(
      node,
    ) {
      if (!context.sourceCode.getCommentsBefore(node).at(-1)?.value.startsWith('*'))
        context.report({ node, message: 'Say what this field is: it is sent.' });
    },
  }),
};

/** Functions that can be seen at once: so many lines of their own, those of functions within them not counted. */
const MOST_LINES = 60;
/** A component says what stands where; it may be so long. */
const MOST_OF_COMPONENT = 150;
const nameOf = (node) =>
  node.id?.name ?? (node.parent?.type === 'VariableDeclarator' ? node.parent.id.name : undefined);
const ownLines = {
  create: (context) => {
    const open = [];
    return {
      ':function': () => open.push(0),
      ':function:exit'(node) {
        const lines = node.loc.end.line - node.loc.start.line + 1;
        const own = lines - open.pop();
        if (open.length > 0) open[open.length - 1] += lines - 1;
        const isComponent = context.filename.endsWith('.tsx') && /^[A-Z]/.test(nameOf(node) ?? '');
        const most = isComponent ? MOST_OF_COMPONENT : MOST_LINES;
        if (own > most)
          context.report({
            node,
            message: `This function has ${own} lines of its own; up to ${most} can be seen at once.`,
          });
      },
    };
  },
};
const house = {
  rules: { 'documented-fields': documentedFields, 'documented-schemas': documentedSchemas, 'own-lines': ownLines },
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
      'core/src/documents/kinds/*.ts',
      'core/src/documents/intended/intentions.ts',
      'core/src/documents/project/recipeFile.ts',
      'core/src/formats/billText.ts',
      'core/src/sheets/paper/*.ts',
      'server/src/store/entities.ts',
      'contract/src/**/*.ts',
      'core/src/formats/{billText,comparison,effect,foreseen,buying}.ts',
    ],
    plugins: { house },
    rules: { 'house/documented-fields': 'error' },
  },
  {
    files: ['contract/src/api/*.ts'],
    plugins: { house },
    rules: { 'house/documented-schemas': 'error' },
  },
  {
    files: ['{bin,core,contract,engine,server,testkit}/**/*.ts', 'web/src/**/*.{ts,tsx}', 'scripts/**/*.mjs'],
    ignores: ['**/*.test.{ts,tsx}'],
    plugins: { house },
    rules: { 'house/own-lines': 'error' },
  },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'warn' },
  },
);
