/** Collects the figures of a soak run, and whether each is within its limit. */
import { writeFileSync } from 'node:fs';
import { cpus, totalmem } from 'node:os';

export interface Row {
  what: string;
  value: string;
  good: boolean;
}

export class Report {
  readonly sections: { title: string; rows: Row[] }[] = [];

  section(title: string): void {
    this.sections.push({ title, rows: [] });
    process.stdout.write(`\n${title}\n`);
  }

  figure(what: string, value: string, good: boolean): void {
    this.sections.at(-1)!.rows.push({ what, value, good });
    process.stdout.write(`  ${good ? 'ok  ' : 'FAIL'} ${what}: ${value}\n`);
  }

  get failed(): number {
    return this.sections.flatMap((s) => s.rows).filter((r) => !r.good).length;
  }

  get passed(): number {
    return this.sections.flatMap((s) => s.rows).length - this.failed;
  }

  /** Writes the figures as Markdown tables. */
  write(file: string): void {
    const machine = `${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GB, Node ${process.version}`;
    const table = (rows: Row[]): string =>
      [
        '| figure | measured | within its limit |',
        '| --- | --- | --- |',
        ...rows.map((r) => `| ${r.what} | ${r.value} | ${r.good ? 'yes' : 'no'} |`),
      ].join('\n');
    const text = [
      `Measured on ${new Date().toISOString().slice(0, 10)}: ${machine}.`,
      ...this.sections.map((s) => `### ${s.title}\n\n${table(s.rows)}`),
    ];
    writeFileSync(file, `${text.join('\n\n')}\n`);
  }
}
