/** `easel completion`, in a real bash: what it offers after some words. */
import { execFileSync } from 'node:child_process';
import { beforeAll, describe, expect, it } from 'vitest';
import { InputError } from './command.js';
import { completionCommand } from './commands/completion.js';
import { allCommands, commandsFor } from './commands/index.js';

const command = completionCommand(allCommands);
let script: string;
beforeAll(async () => {
  script = (await command.run('bash', {}, () => undefined)) as string;
});

/** Offers after these words, the last of which is being typed. */
function offered(...words: string[]): string[] {
  const typed = ['easel', ...words].map((w) => `'${w}'`).join(' ');
  const ask = `${script}\nCOMP_WORDS=(${typed}); COMP_CWORD=${words.length}; _easel; printf '%s\\n' "\${COMPREPLY[@]}"`;
  return execFileSync('bash', ['-c', ask], { encoding: 'utf8' }).split('\n').filter(Boolean);
}

describe('completion in bash', () => {
  it('offers every command, and those that begin as what is typed', async () => {
    expect(offered('')).toEqual([...(await allCommands()).map((c) => c.name), '--help', '--version']);
    expect(offered('pre')).toEqual(['preflight']);
    expect(offered('re')).toEqual(['render', 'restore']);
  });

  it('offers what is below a group', () => {
    expect(offered('batch', 're')).toEqual(['resume', 'retry', 'report']);
    expect(offered('batch', 'start', '--pri')).toEqual(['--priority']);
  });

  it('offers options and the values of one', () => {
    expect(offered('preflight', 'set.json', '--')).toEqual(expect.arrayContaining(['--model', '--strict', '--json', '--help']));
    expect(offered('batch', 'start', 'Spin', '--priority', '')).toEqual(['ahead', 'inTurn', 'last']);
    expect(offered('check', '--files', 'w')).toEqual(['whole']);
  });

  it('leaves names of files to the shell', () => {
    expect(offered('preflight', 'set.js')).toEqual([]);
    expect(offered('preflight', 'set.json', '--model', 'lamp.g')).toEqual([]);
    expect(script).toContain('complete -o default');
  });

  it('is there for zsh by way of bash, and for no other shell', async () => {
    expect(await command.run('zsh', {}, () => undefined)).toBe(`autoload -U +X bashcompinit && bashcompinit\n${script}`);
    await expect(command.run('fish', {}, () => undefined)).rejects.toThrow(InputError);
    expect(command.print!(script)).toBe(script);
  });
});

describe('what is read of the commands', () => {
  it('is the one that is named, by the name that the parser knows it by', async () => {
    for (const { name } of await allCommands()) expect((await commandsFor([name, '--json'])).map((c) => c.name)).toEqual([name]);
  });

  it('is all of them for the help and for a word that is none, and nothing for the version', async () => {
    const all = (await allCommands()).map((c) => c.name);
    for (const words of [[], ['--help'], ['rendr'], ['constructor']]) expect((await commandsFor(words)).map((c) => c.name)).toEqual(all);
    expect(await commandsFor(['--version'])).toEqual([]);
  });
});
