import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { fbxBinary } from '../../tests/support/fbx.js';
import { readSources } from './input.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-sources-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const put = (name: string, content: string | Uint8Array): string => {
  const at = path.join(folder, name);
  mkdirSync(path.dirname(at), { recursive: true });
  writeFileSync(at, content);
  return at;
};
const names = (file: string): string[] =>
  readSources(file)
    .map((f) => f.name)
    .sort();

it('pictures that a model names are taken from beside it and from a folder beside it, others are left', () => {
  for (const name of ['Oak.png', 'maps/tiles.png', 'maps/other.jpg', 'maps/deep/tiles.jpg']) put(name, 'picture');
  const picture = { name: 'tiles.png', bytes: null };
  expect(names(put('roof.fbx', fbxBinary({ size: [1, 1, 1], unit: 1, upAxis: 1, picture })))).toEqual(['roof.fbx', 'tiles.png']);
  expect(names(put('shelf.dae', '<COLLADA><init_from>./oak.png</init_from></COLLADA>'))).toEqual(['Oak.png', 'shelf.dae']);
  expect(names(put('shelf.wrl', '#VRML V2.0 utf8\nurl "maps/other.jpg"'))).toEqual(['other.jpg', 'shelf.wrl']);
  expect(names(put('scan.ply', 'ply\ncomment TextureFile oak.png\nend_header\n'))).toEqual(['Oak.png', 'scan.ply']);
  put('sheet.mtl', 'newmtl M\nmap_Kd -s 2 2 tiles.png\n');
  put('others.mtl', 'newmtl N\nmap_Kd oak.png\n');
  expect(names(put('sheet.obj', 'mtllib sheet.mtl\nv 0 0 0\n'))).toEqual(['sheet.mtl', 'sheet.obj', 'tiles.png']);
  put('board.tga', 'picture');
  put('board.mtl', 'newmtl M\nmap_Pr board.tga\n');
  expect(names(put('board.obj', 'mtllib board.mtl\nv 0 0 0\n'))).toEqual(['board.mtl', 'board.obj', 'board.tga']);
  expect(names(put('plain.stl', 'solid oak.png'))).toEqual(['plain.stl']);
});

it('layers that a layer names come along, and what those name', () => {
  put('set/parts/lamp.usda', '#usda 1.0\ndef "Lamp" ( references = @../shades/shade.usda@ ) { asset inputs:file = @../glow.png@ }');
  put('set/shades/shade.usda', '#usda 1.0\n');
  put('set/shades/unused.usda', '#usda 1.0\n');
  put('set/glow.png', 'picture');
  expect(names(put('set/scene.usda', '#usda 1.0\ndef "All" ( payload = @parts/lamp.usda@ ) { }'))).toEqual([
    'glow.png',
    'lamp.usda',
    'scene.usda',
    'shade.usda',
  ]);
});
