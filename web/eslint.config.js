import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'

/** A room imports from itself and from those before it. */
const ROOMS = ['api', 'theme', 'parts', 'drawings', 'strip', 'stations']

const boundaries = ROOMS.map((room, at) => {
  const above = ROOMS.slice(at + 1)
  const patterns = [
    ...above.map((other) => ({
      regex: `^(@/|(\\.\\./)+)${other}/`,
      message: `${room} stands below ${other}.`,
    })),
    ...(room === 'stations'
      ? [
          {
            regex: '^(@/stations/|(\\.\\./)+)(?!.*\\.css$)',
            message: 'No station knows another: what two need stands in parts, or below.',
          },
        ]
      : []),
  ]
  return {
    files: [`src/${room}/**/*.{ts,vue}`],
    ignores: ['src/**/*.test.ts'],
    rules: { 'no-restricted-imports': ['error', { patterns }] },
  }
})

export default tseslint.config(
  { ignores: ['dist', 'node_modules', 'src/api/schema.ts'] },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser } },
    rules: { 'vue/multi-word-component-names': 'off', 'vue/require-default-prop': 'off' },
  },
  ...boundaries,
  prettier,
)
