import { describe, expect, it } from 'vitest';
import { isLoopback, readConfig } from './config.js';

describe('the configuration', () => {
  it('has harmless defaults', () => {
    expect(readConfig({}, '/app')).toEqual({
      data: '/app/data',
      port: 4870,
      address: '127.0.0.1',
      hosts: [],
      logLevel: 'info',
      trustProxy: false,
      reserveBytes: 512 * 2 ** 20,
      originalsBytes: 20 * 2 ** 30,
      mastersBytes: 20 * 2 ** 30,
      retrySeconds: 2,
      trashDays: 30,
      thumbnailSamples: 12,
      demo: false,
      hook: null,
      hookHosts: [],
    });
  });

  it('trims host names and drops empty ones', () => {
    expect(readConfig({ COLD_EASEL_HOSTS: ' Studio.local , render-1,, ' }, '/').hosts).toEqual(['studio.local', 'render-1']);
  });

  it('counts an empty variable as one that is not set', () => {
    expect(readConfig({ COLD_EASEL_ADDRESS: '', PORT: '' }, '/').port).toBe(4870);
  });

  it.each([
    ['PORT', 'abc'],
    ['PORT', '70000'],
    ['COLD_EASEL_ADDRESS', 'my-machine'],
    ['COLD_EASEL_HOSTS', 'http://studio.local'],
    ['COLD_EASEL_HOSTS', 'studio.local:4870'],
    ['COLD_EASEL_LOG', 'loud'],
    ['COLD_EASEL_PASSPHRASE', 'short'],
    ['COLD_EASEL_RESERVE_MB', '-1'],
    ['COLD_EASEL_THUMBNAIL_SAMPLES', '0'],
    ['COLD_EASEL_RETRY_SECONDS', '0'],
    ['COLD_EASEL_TRASH_DAYS', '0'],
  ])('names %s where it is "%s"', (name, value) => {
    expect(() => readConfig({ [name]: value }, '/')).toThrow(`${name}=${value}: `);
  });

  it('knows --trust-proxy and no other option', () => {
    expect(readConfig({}, '/', ['--trust-proxy']).trustProxy).toBe(true);
    expect(() => readConfig({}, '/', ['--open'])).toThrow('"--open" is not an option');
  });

  it.each([
    ['127.0.0.1', true],
    ['127.8.8.8', true],
    ['::1', true],
    ['::ffff:127.0.0.1', true],
    ['0.0.0.0', false],
    ['::', false],
    ['10.1.2.3', false],
  ])('%s is loopback: %s', (address, own) => {
    expect(isLoopback(address)).toBe(own);
  });
});

describe('the hook', () => {
  const hookOf = (hook: string, hosts = '') => readConfig({ COLD_EASEL_HOOK: hook, COLD_EASEL_HOOK_HOSTS: hosts }, '/').hook;

  it('is a command line, an address of this machine, or one of a host that is named', () => {
    for (const hook of ['notify-team --quiet', 'http://localhost:8080/done', 'http://127.0.0.1/', 'http://[::1]:9/x'])
      expect(hookOf(hook)).toBe(hook);
    expect(hookOf('https://build.studio.local/done', 'build.studio.local')).toBe('https://build.studio.local/done');
  });

  it.each(['http://192.0.2.7/done', 'https://build.studio.local/', 'http://localhost.example/'])('is refused at %s', (hook) => {
    expect(() => hookOf(hook)).toThrow('is another machine. Name it in COLD_EASEL_HOOK_HOSTS');
  });

  it('is refused where it is no address', () => {
    expect(() => hookOf('http://')).toThrow('give an address such as');
  });
});
