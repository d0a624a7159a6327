/** `easel completion`: a script by which a shell completes commands, options and their values. */
import type { Option } from 'commander';
import { type Command, type CommandGroup, InputError } from '../command.js';

const SHELLS = ['bash', 'zsh'] as const;

/** What may follow each row of words: names below a group, options of a command, values of an option. */
function followers(commands: readonly (Command | CommandGroup)[]): Map<string, string[]> {
  const lists = new Map<string, string[]>();
  const add = (path: string, options: readonly Option[]): void => {
    lists.set(path, [...options.map((o) => o.long!), '--json', '--help']);
    for (const o of options) if (o.argChoices) lists.set(`${path} ${o.long!}`, [...o.argChoices]);
  };
  lists.set('', [...commands.map((c) => c.name), '--help', '--version']);
  for (const command of commands) {
    if (!('commands' in command)) add(command.name, command.options);
    else {
      lists.set(command.name, [...command.commands.map((c) => c.name), '--help']);
      for (const below of command.commands) add(`${command.name} ${below.name}`, below.options);
    }
  }
  return lists;
}

/** Where nothing of ours fits, the shell completes files: sets, models, folders. */
function bashScript(commands: readonly (Command | CommandGroup)[]): string {
  const groups = commands.filter((c) => 'commands' in c).map((c) => c.name);
  const all = [...followers(commands)];
  const cases = (rows: typeof all): string => rows.map(([path, words]) => `      '${path}') list='${words.join(' ')}' ;;`).join('\n');
  return `_easel() {
  local cur="\${COMP_WORDS[COMP_CWORD]}" prev="\${COMP_WORDS[COMP_CWORD-1]}" path='' list=''
  if (( COMP_CWORD > 1 )); then path="\${COMP_WORDS[1]}"; fi
  case "$path" in
    ${groups.join('|')}) if (( COMP_CWORD > 2 )); then path="$path \${COMP_WORDS[2]}"; fi ;;
  esac
  case "$path $prev" in
${cases(all.filter(([path]) => isOption(path)))}
      *) case "$path" in
${cases(all.filter(([path]) => !isOption(path)))}
      esac ;;
  esac
  COMPREPLY=( $(compgen -W "$list" -- "$cur") )
}
complete -o default -F _easel easel
`;
}

/** Whether a row of words ends in an option, whose values follow. */
const isOption = (path: string): boolean => / --\S+$/.test(path);

/** @param commands reads all of them. */
export const completionCommand = (commands: () => Promise<readonly (Command | CommandGroup)[]>): Command => ({
  name: 'completion',
  summary: 'print a completion script for bash or zsh',
  argument: ['shell', SHELLS.join(' or ')],
  options: [],
  async run(shell, _, say) {
    if (!(SHELLS as readonly string[]).includes(shell)) throw new InputError(`There is completion for ${SHELLS.join(' and ')}, not for "${shell}".`);
    say(`Put it into effect with: source <(easel completion ${shell})`);
    return `${shell === 'zsh' ? 'autoload -U +X bashcompinit && bashcompinit\n' : ''}${bashScript(await commands())}`;
  },
  print: (script) => script as string,
});
