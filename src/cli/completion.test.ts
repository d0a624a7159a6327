/** `easel completion`, in a real bash: what it offers after some words. */
import { execFileSync } from 'node:child_process';
import { beforeAll, describe, expect, it } from 'vitest';
import { InputError } from './command.js';
import { completionCommand } from './commands/completion.js';
import { COMMANDS } from './commands/index.js';

const command = completionCommand(() => COMMANDS);
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
  it('offers every command, and those that begin as what is typed', () => {
    expect(offered('')).toEqual([...COMMANDS.map((c) => c.name), '--help', '--version']);
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
    expect(() => command.run('fish', {}, () => undefined)).toThrow(InputError);
    expect(command.print!(script)).toBe(script);
  });
});
