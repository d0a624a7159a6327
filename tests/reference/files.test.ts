/** What is written, read back by other people's programs: sharp for pictures, ffprobe and ffmpeg for movies. */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { clipArguments } from '../../src/core/movie/clip.js';
import { applyGrade } from '../../src/core/image/grade.js';
import { encodeImage } from '../../src/formats/image/write.js';
import { ternGlb } from '../support/box.js';
import { card } from '../support/testCard.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-files-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('pictures', () => {
  const linear = Float32Array.from({ length: 32 * 16 * 3 }, (_, i) => (i % 96) / 60);
  const display = new Float32Array(linear.length);
  applyGrade(linear, display);

  it('PNG of 8 and 16 bits hold every value', async () => {
    for (const bits of [8, 16] as const) {
      const file = await encodeImage(display, 32, 16, { type: 'png', bits, quality: 100 });
      expect(await sharp(file).metadata()).toMatchObject({
        format: 'png',
        width: 32,
        height: 16,
        depth: bits === 8 ? 'uchar' : 'ushort',
        channels: 3,
      });
      const pipeline = sharp(file);
      const raw = await (bits === 16 ? pipeline.toColourspace('rgb16') : pipeline).raw({ depth: bits === 8 ? 'uchar' : 'ushort' }).toBuffer();
      const top = bits === 8 ? 255 : 65_535;
      for (let i = 0; i < display.length; i++) expect(bits === 8 ? raw[i] : raw.readUInt16LE(i * 2)).toBe(Math.round(display[i]! * top));
    }
  });

  it('PNG is the smaller the more it is compressed, and holds the same', async () => {
    const [loose, tight] = [
      await encodeImage(display, 32, 16, { type: 'png', bits: 8, quality: 100, level: 0 }),
      await encodeImage(display, 32, 16, { type: 'png', bits: 8, quality: 100, level: 9 }),
    ];
    expect(tight.length).toBeLessThan(loose.length / 2);
    expect((await sharp(tight).raw().toBuffer()).equals(await sharp(loose).raw().toBuffer())).toBe(true);
  });

  it('JPEG is read by sharp at its size', async () => {
    const file = await encodeImage(display, 32, 16, { type: 'jpeg', bits: 8, quality: 95 });
    expect(await sharp(file).metadata()).toMatchObject({ format: 'jpeg', width: 32, height: 16, chromaSubsampling: '4:4:4' });
  });
});

describe('movies', () => {
  const encode = async (rate: string, frames: Buffer[], size: { width: number; height: number }): Promise<string> => {
    const file = path.join(folder, `${rate.replace('/', '-')}.mp4`);
    const pngs = await Promise.all(
      frames.map((f) =>
        sharp(f, { raw: { ...size, channels: 3 } })
          .png()
          .toBuffer(),
      ),
    );
    const made = spawnSync('ffmpeg', [...clipArguments({ rate, size, pixelAspect: 1, input: 'png' }), file], { input: Buffer.concat(pngs) });
    expect(made.stderr.toString()).toBe('');
    return file;
  };
  const probe = (file: string) =>
    (
      JSON.parse(execFileSync('ffprobe', ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', file]).toString()) as {
        streams: Record<string, string>[];
      }
    ).streams[0]!;

  it.each(['24', '30000/1001'])('72 frames at exactly %s, BT.709, limited range', async (rate) => {
    const size = { width: 96, height: 54 };
    const stream = probe(
      await encode(
        rate,
        Array.from({ length: 72 }, (_, i) => card(96, 54, i)),
        size,
      ),
    );
    const [n, d] = rate.includes('/') ? rate.split('/') : [rate, '1'];
    expect(stream).toMatchObject({
      codec_name: 'h264',
      nb_read_frames: '72',
      r_frame_rate: `${n}/${d}`,
      avg_frame_rate: `${n}/${d}`,
      pix_fmt: 'yuv420p',
      color_range: 'tv',
      color_space: 'bt709',
      color_transfer: 'bt709',
      color_primaries: 'bt709',
      width: 96,
      height: 54,
    });
    expect(Number(stream.duration)).toBeCloseTo((72 * Number(d)) / Number(n), 4);
  });

  it('a grey ramp and colour bars survive within 2 of 255', async () => {
    const size = { width: 512, height: 64 };
    const source = card(512, 64);
    const file = await encode('25', [source, source, source, source], size);
    const decoded = execFileSync(
      'ffmpeg',
      [
        '-v',
        'error',
        '-i',
        file,
        '-frames:v',
        '1',
        '-vf',
        'scale=in_color_matrix=bt709:in_range=tv:out_range=full:flags=accurate_rnd+full_chroma_int+full_chroma_inp,format=rgb24',
        '-f',
        'rawvideo',
        '-',
      ],
      { maxBuffer: 1e8 },
    );
    let worst = 0;
    for (let y = 0; y < 64; y++) {
      for (let x = 0; x < 512; x++) {
        // Chroma is halved in size, so pixels beside a bar's edge are mixed by design.
        if (Math.abs(y - 32) < 4 || (y >= 32 && (x % 64 < 4 || x % 64 > 59))) continue;
        for (let k = 0; k < 3; k++) worst = Math.max(worst, Math.abs(decoded[(y * 512 + x) * 3 + k]! - source[(y * 512 + x) * 3 + k]!));
      }
    }
    expect(worst).toBeLessThanOrEqual(2);
  });
});

describe('the command line', () => {
  const easel = (...args: string[]) => spawnSync(process.execPath, ['bin/easel.mjs', ...args], { encoding: 'utf8' });
  const set = {
    format: 'cold-easel.set',
    version: 2,
    name: 'CLI',
    sheet: { size: { width: 64, height: 48 }, quality: { samples: 2 } },
    stage: { site: { latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' } },
    views: [
      { id: 'quay', name: 'From the quay', kind: 'perspective', eye: [0.8, 0.4, 1], target: [0, 0.2, 0], focalLength: 28, keepVerticals: true },
    ],
    shots: [
      { id: 'stills', kind: 'still', views: ['quay'] },
      { id: 'spin', kind: 'turntable', view: 'quay', frames: 8 },
    ],
  };
  const setFile = path.join(folder, 'set.json');
  const model = path.join(folder, 'tern.glb');

  it('imports, plans and renders, with a machine-readable result alone on standard output', async () => {
    writeFileSync(setFile, JSON.stringify(set));
    writeFileSync(model, await ternGlb());
    const imported = easel('import', model, '--json');
    expect(JSON.parse(imported.stdout)).toMatchObject({ parts: 31, triangles: 22_736, warnings: [] });
    const plan = JSON.parse(easel('plan', setFile, '--model', model, '--json').stdout) as {
      frames: { shot: string; number: number; time: number; camera: { viewMatrix: number[]; projectionMatrix: number[] } }[];
    };
    expect(plan.frames.map((f) => `${f.shot} ${f.number}`)).toEqual(['stills 1', ...Array.from({ length: 8 }, (_, i) => `spin ${i + 1}`)]);
    expect(plan.frames.every((f) => f.camera.viewMatrix.length === 16 && f.camera.projectionMatrix.length === 16)).toBe(true);
    const out = path.join(folder, 'out');
    const rendered = JSON.parse(easel('render', setFile, '--model', model, '--out', out, '--shot', 'spin', '--select', '2-4', '--json').stdout) as {
      frames: { file: string; samples: number; seconds: number }[];
    };
    expect(rendered.frames.map((f) => path.basename(f.file))).toEqual([2, 3, 4].map((n) => `spin_beauty.000${n}.png`));
    expect(rendered.frames.every((f) => f.samples === 2 && f.seconds > 0 && readFileSync(f.file).length > 500)).toBe(true);
    const again = easel('render', setFile, '--model', model, '--out', out, '--shot', 'spin', '--select', '2');
    expect([again.status, again.stderr]).toEqual([2, expect.stringContaining('exists and would be overwritten')]);
  });

  it('ends quietly when its reader has read enough', () => {
    const long = path.join(folder, 'long.json');
    writeFileSync(long, JSON.stringify({ ...set, shots: [{ id: 'spin', kind: 'turntable', view: 'quay', frames: 2000 }] }));
    const piped = spawnSync('bash', ['-c', `node bin/easel.mjs plan '${long}' --model '${model}' --json | head -c 100; echo " \${PIPESTATUS[0]}"`], {
      encoding: 'utf8',
    });
    expect(piped.stdout).toMatch(/^\{"frames":\[.* 0\n$/s);
    expect(piped.stderr).not.toMatch(/EPIPE|at .*\.js/);
  });

  it('renders in the quality that is asked for, also shots that have one of their own', () => {
    const own = path.join(folder, 'own.json');
    const [stills] = set.shots;
    writeFileSync(
      own,
      JSON.stringify({
        ...set,
        author: 'M. Example',
        sheet: { ...set.sheet, names: { still: '{author}/{shot}', moving: '{shot}.{frame:4}' } },
        shots: [{ ...stills, overrides: { quality: { samples: 3 } } }],
      }),
    );
    const samples = (...args: string[]) => {
      const run = easel('render', own, '--model', model, '--out', path.join(folder, `own${args.length}`), '--json', ...args);
      expect(run.status, run.stderr).toBe(0);
      return (JSON.parse(run.stdout) as { frames: { samples: number; file: string }[] }).frames;
    };
    expect(samples().map((f) => [f.samples, path.basename(path.dirname(f.file)), path.basename(f.file)])).toEqual([[3, 'M.-Example', 'stills.png']]);
    expect(samples('--quality', 'draft').map((f) => f.samples)).toEqual([16]);
    const { author: _, ...nameless } = JSON.parse(readFileSync(own, 'utf8')) as Record<string, unknown>;
    writeFileSync(own, JSON.stringify(nameless));
    const refused = easel('plan', own, '--model', model);
    expect([refused.status, refused.stderr]).toEqual([2, expect.stringContaining('the set names no author')]);
  });

  it('says where the sun stands: the worked example of NREL/TP-560-34302 (from memory), and polar day', () => {
    const place = ['--latitude', '39.742476', '--longitude', '-105.1786', '--elevation', '1830.14', '--pressure', '820', '--temperature', '11'];
    const sun = JSON.parse(easel('sun', ...place, '--at', '2003-10-17T12:30:30-07:00', '--json').stdout) as Record<string, unknown>;
    expect(Math.abs((sun.azimuth as number) - 194.3402)).toBeLessThan(0.02);
    expect(Math.abs((sun.altitude as number) - (90 - 50.1116))).toBeLessThan(0.02);
    expect(sun.sunrise).toMatch(/^2003-10-17T06:1[23]:.*-07:00$/);
    // Without an offset the clocks of the place count.
    const north = JSON.parse(easel('sun', '--latitude', '78', '--longitude', '15.6', '--at', '2026-06-21T12:00', '--json').stdout) as object;
    expect(north).toMatchObject({ sunrise: null, sunset: null, polar: 'day', hours: 24, timeZone: 'Arctic/Longyearbyen' });
  });

  it('keeps faces apart where that is asked for, and says when a set counts on it', () => {
    const cube = 'node_modules/occt-import-js/test/testfiles/cube-units/cube-mm.step';
    const faced = path.join(folder, 'faced.json');
    writeFileSync(
      faced,
      JSON.stringify({ ...set, materials: { parts: [{ path: 'Part/Cube', faces: [{ group: 6, material: 'polished steel' }] }] } }),
    );
    const worn = (...faces: string[]) => {
      const out = path.join(folder, `faced${faces.length}.glb`);
      const { status, stderr } = easel('export', faced, '--model', cube, '--out', out, ...faces);
      expect(status).toBe(0);
      const bytes = readFileSync(out);
      const json = JSON.parse(bytes.subarray(20, 20 + bytes.readUInt32LE(12)).toString()) as {
        meshes: { primitives: { mode?: number; material: number }[] }[];
        materials: { name: string }[];
      };
      const surfaces = json.meshes.flatMap((m) => m.primitives).filter((p) => (p.mode ?? 4) === 4);
      return { stderr, names: surfaces.map((p) => json.materials[p.material]!.name) };
    };
    const apart = worn('--faces', 'apart');
    expect(apart.names).toHaveLength(6);
    expect(apart.names.filter((n) => n === 'polished steel')).toHaveLength(1);
    expect(apart.stderr).not.toContain('note:');
    const together = worn();
    expect(together.names).toHaveLength(1);
    expect(together.stderr).toContain('note: "Part/Cube" has fewer groups of faces than the set assigns materials to.');
  });

  it.each([
    [['import', model, '--faces', 'both'], "argument 'both' is invalid. Allowed choices are together, apart."],
    [['plan', 'nowhere.json', '--model', 'x'], 'nowhere.json: there is no such file'],
    [['plan', setFile], "required option '--model <file>' not specified"],
    [['import', setFile], 'There is no model among "set.json"'],
    [['paint'], "unknown command 'paint'"],
    [['import', model, '--unit', 'parsec'], "argument 'parsec' is invalid. Allowed choices are"],
    [['render', setFile, '--model', model, '--out', folder, '--shot', 'walk'], 'There is no shot "walk"; the set has stills, spin.'],
    [['plan', setFile, '--model', model, '--colour', 'red'], "unknown option '--colour'"],
    [['sun', '--latitude', '91', '--longitude', '0', '--at', '2026-06-21'], 'Give a number from -90 to 90.'],
    [['sun', '--latitude', '60', '--longitude', '19', '--at', 'noon'], 'Give --at as an ISO 8601 time'],
  ])('%j exits 2 and says what to do', (args, message) => {
    const { status, stderr, stdout } = easel(...args);
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr).toContain(message);
  });
});

describe('workers', () => {
  it('one and two give the same bits', async () => {
    const { decodeScene } = await import('../../src/engine/scene/compile.js');
    const { importModel } = await import('../../src/engine/node/importModel.js');
    const { startPool } = await import('../../src/engine/node/threads.js');
    const { planFrames: framesOf } = await import('../../src/core/planning/planFrames.js');
    const { parseSet } = await import('../../src/core/plan/set.js');
    const prepared = await importModel([{ name: 'tern.glb', bytes: new Uint8Array(await ternGlb()) }], { unit: 'm', up: 'y' });
    const scene = decodeScene(prepared.scene)!;
    const [frame] = framesOf(
      parseSet({
        format: 'cold-easel.set',
        version: 2,
        name: 's',
        // Enough samples that some are shared out by need.
        sheet: { size: { width: 150, height: 101 }, quality: { samples: 12 } },
        views: [{ id: 'v', name: 'v', eye: [0.8, 0.4, 1], target: [0, 0.2, 0] }],
        shots: [{ id: 's', kind: 'still', views: ['v'] }],
      }),
      { bounds: prepared.summary.bounds, scene: prepared.summary.hash },
    );
    const bits: Buffer[] = [];
    for (const [workers, tile, onRound] of [
      [1, 32],
      [2, 32, () => undefined],
      [2, 64],
    ] as const) {
      const pool = startPool(workers, tile);
      // In rounds, as where it is watched, or in one run.
      const picture = await pool.render('scene', () => scene, frame!, { onRound });
      bits.push(Buffer.from(picture.colour.slice().buffer));
      await pool.close();
    }
    expect(bits[1]!.equals(bits[0]!) && bits[2]!.equals(bits[0]!)).toBe(true);
  });
});
