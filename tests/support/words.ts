/** Every text that people read, collected from the sources, and what is wrong with it by docs/words.md. */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';

/** What a word of the interface is. */
export type WordKind = 'label' | 'help' | 'message';

/** A text of the interface, with its place. */
export interface Word {
  /** Path below the root, with slashes. */
  file: string;
  line: number;
  kind: WordKind;
  /** Name in its table or of its property; empty where it has none. */
  key: string;
  /** With `{name}` where a value is filled in. */
  text: string;
}

const TABLES: Readonly<Record<string, WordKind>> = { LABELS: 'label', HELP: 'help', MESSAGES: 'message' };
/** Properties and calls that hold texts outside the tables of the interface. */
const LABEL_PROPERTIES = new Set(['label']);
const HELP_CALLS = new Set(['description', 'describe', 'summary']);
const HELP_PROPERTIES = new Set(['help', 'remedy', 'hint']);

/** Words of a label at most. */
export const MAX_LABEL_WORDS = 4;
/** Characters of a help text at most. */
export const MAX_HELP_LENGTH = 160;

/** The text of a literal, with names for what is filled in; null where it is none. */
function textOf(node: ts.Node): string | null {
  if (ts.isStringLiteralLike(node)) return node.text;
  if (!ts.isTemplateExpression(node)) return null;
  const name = (e: ts.Expression): string => /(\w+)\W*$/.exec(e.getText().replace(/\(.*\)$/s, ''))?.[1] ?? 'value';
  return node.head.text + node.templateSpans.map((s) => `{${name(s.expression)}}${s.literal.text}`).join('');
}

const nameOf = (node: ts.PropertyName): string => (ts.isIdentifier(node) || ts.isStringLiteralLike(node) ? node.text : '');

/** Whether a literal outside the tables is a sentence: several words that end like one. */
const isSentence = (text: string): boolean =>
  /^["“{\p{L}]/u.test(text) &&
  /[.!?…]$/.test(text.trim()) &&
  text.trim().split(/\s+/).length > 2 &&
  !/^(SELECT|UPDATE|INSERT|DELETE FROM|VACUUM)\b/.test(text);

function wordsOfFile(file: string, source: ts.SourceFile): Word[] {
  const words: Word[] = [];
  const add = (node: ts.Node, kind: WordKind, key: string, text: string): void => {
    const { line } = source.getLineAndCharacterOfPosition(node.getStart());
    words.push({ file, line: line + 1, kind, key, text: text.replace(/\n/g, ' ').trim() });
  };
  const visit = (node: ts.Node, table: WordKind | null): void => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node)) return;
    if (ts.isVariableDeclaration(node) && ts.isIdentifier(node.name) && TABLES[node.name.text]) {
      ts.forEachChild(node, (c) => visit(c, TABLES[(node.name as ts.Identifier).text]!));
      return;
    }
    if (ts.isPropertyAssignment(node)) {
      const key = nameOf(node.name);
      const body = ts.isArrowFunction(node.initializer) ? node.initializer.body : node.initializer;
      const text = textOf(body);
      const kind = table ?? (LABEL_PROPERTIES.has(key) ? 'label' : HELP_PROPERTIES.has(key) ? 'help' : null);
      if (text !== null && kind !== null && /[A-Za-z]{2}/.test(text)) {
        add(node, kind, key, text);
        return;
      }
    }
    const text = textOf(node);
    if (text !== null && isSentence(text)) {
      const call = ts.isCallExpression(node.parent) ? node.parent.expression : null;
      const called = call && (ts.isPropertyAccessExpression(call) ? call.name.text : ts.isIdentifier(call) ? call.text : '');
      add(node, called && HELP_CALLS.has(called) ? 'help' : 'message', '', text);
      return;
    }
    ts.forEachChild(node, (c) => visit(c, table));
  };
  visit(source, null);
  return words;
}

/** All texts below `root`, in the order of files and lines. */
export function collectWords(root: string): Word[] {
  const files = readdirSync(path.join(root, 'src'), { recursive: true, encoding: 'utf8' })
    .map((f) => path.join('src', f).replaceAll(path.sep, '/'))
    .filter((f) => /\.tsx?$/.test(f) && !/\.(test|d)\.tsx?$/.test(f))
    .sort();
  return files.flatMap((f) => {
    const kind = f.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
    return wordsOfFile(f, ts.createSourceFile(f, readFileSync(path.join(root, f), 'utf8'), ts.ScriptTarget.Latest, true, kind));
  });
}

/** Turns that read as if translated, or a word for which there is another one: what to write instead. */
export const BANNED_TURNS: readonly [RegExp, string][] = [
  [/\b(wear|wears|worn|dress(es|ed)?)\b/i, 'has, material'],
  [/\bfinish(es)?\b(?! now)/i, 'material'],
  [/\blamps?\b/i, 'light'],
  [/\bready stages?\b/i, 'stage preset'],
  [/\bpictures? of light\b|\bsurround\b/i, 'environment image'],
  [/\blive pictures?\b/i, 'live preview'],
  [/\bpictures?\b(?!\/)/i, 'render, frame, image or texture'],
  [/\bon (the )?desk\b|\bin picture\b/i, 'viewport, render'],
  [/\b(deviat\w+|otherwise than|own (quality|rate|size|stage))\b/i, 'overrides'],
  [/\bkept ones\b|\bforget\b/i, 'saved, delete'],
  [/\brecipes?\b/i, 'preset, set template'],
  [/\b(take|takes|taken|taking) (it |them )?(out|away|off|over|back)\b/i, 'delete, remove, import, undo'],
  [/\b(bring|brings|brought)\b/i, 'import, upload'],
  [/\bhand(s|ed)? on\b/i, 'remap'],
  [/\b(lay|lays|laid|lie|lies)\b/i, 'is, place'],
  [/\bstands?\b(?! for)/i, 'is'],
  [/\bheed/i, 'affect'],
  [/\bseen to turn\b|\bgentle ends\b|\bseen behind\b/i, 'direction, ease in/out, backdrop'],
  [/\blook(s|ed)? past\b|\buprights\b/i, 'near clipping, keep verticals straight'],
  [/\bgood enough\b|\bwithout work\b/i, 'finish now, worker idle time'],
  [/\binterfaces\b|\boutlier\b/i, 'refraction depth, firefly clamp'],
  [/\b(shot )?register\b|\bframe rule\b/i, 'shot list, timeline'],
  [/\bcapitals\b|\bcounts? for nothing\b/i, 'not case-sensitive'],
  [/\bone[’']s own\b|\bof (your|its|our) own\b(?! (window|folder))/i, 'custom, separate'],
  [/\bso many\b|\bat the most\b|\bin the most\b/i, 'up to, maximum'],
  [/\banew\b|\bhitherto\b|\bwhither\b/i, 'again'],
  [/\bwritten over\b/i, 'replaced'],
  [/\bnobody\b/i, 'no one, or drop it'],
  [/\bmade to measure\b/i, 'fitted'],
];

/** A sentence for each fault: a banned turn, a label or help that is too long, help that ends without a full stop. */
export function checkWords(words: readonly Word[]): string[] {
  return words.flatMap(({ file, line, kind, text }) => {
    const at = `${file}:${line} "${text}"`;
    const faults = BANNED_TURNS.filter(([turn]) => turn.test(text)).map(
      ([turn, instead]) => `${at}: not "${turn.exec(text)![0]}"; write ${instead}.`,
    );
    const count = text
      .replace(/\{[^}]*\}/g, 'x')
      .split(/[\s/·×]+/)
      .filter((w) => /[\p{L}\p{N}]/u.test(w)).length;
    if (kind === 'label' && count > MAX_LABEL_WORDS) faults.push(`${at}: a label of ${count} words; write up to ${MAX_LABEL_WORDS}.`);
    if (kind === 'help' && text.length > MAX_HELP_LENGTH) faults.push(`${at}: help of ${text.length} characters; write up to ${MAX_HELP_LENGTH}.`);
    if (kind === 'help' && !/[.!?]$/.test(text)) faults.push(`${at}: help ends with a full stop.`);
    return faults;
  });
}
