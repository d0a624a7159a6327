/** ESLint's own rule that refuses what a selector matches, for a linter that has no such rule of its own. */
import { builtinRules } from 'eslint/use-at-your-own-risk';

export default { meta: { name: 'syntax' }, rules: { 'no-restricted-syntax': builtinRules.get('no-restricted-syntax') } };
