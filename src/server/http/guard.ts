/** Refuses requests that come by a foreign name or from a foreign page (DNS rebinding, cross-site), and names what pages may load. */
import { networkInterfaces, hostname } from 'node:os';
import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { isLoopback, type ServerConfig } from '../config.js';
import { sendProblem } from './problem.js';

const OWN_NAMES = ['localhost', '127.0.0.1', '[::1]'];

function hostName(host: string): string {
  return host.replace(/:\d+$/, '').toLowerCase();
}

/** Addresses of this machine as they stand in a Host header, where others can reach it. */
function ownAddresses(): string[] {
  const all = Object.values(networkInterfaces()).flatMap((list) => list ?? []);
  return [hostname().toLowerCase(), ...all.map(({ family, address }) => (family === 'IPv6' ? `[${address.toLowerCase()}]` : address))];
}

/** Names that the server answers to: its own, and those that it was given. */
export function allowedHosts({ address, hosts }: Pick<ServerConfig, 'address' | 'hosts'>): Set<string> {
  return new Set([...OWN_NAMES, ...(isLoopback(address) ? [] : ownAddresses()), ...hosts]);
}

/** Answers to allowed names alone, and to pages of this server alone, for reading too. */
export function hostGuard(config: Pick<ServerConfig, 'address' | 'hosts' | 'trustProxy'>): RequestHandler {
  const allowed = allowedHosts(config);
  return (request, response, next) => {
    const forwarded = config.trustProxy ? request.get('x-forwarded-host') : undefined;
    const host = forwarded ?? request.headers.host ?? '';
    if (!allowed.has(hostName(host))) {
      const name = hostName(host)
        .replace(/[^a-z0-9.[\]:-]/g, '')
        .slice(0, 100);
      sendProblem(
        response,
        'forbidden',
        `This server does not answer to the name "${name}". Open it as http://localhost, or start it with COLD_EASEL_HOSTS=${name || 'NAME'}.`,
      );
      return;
    }
    const { origin } = request.headers;
    if (origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`) {
      sendProblem(response, 'forbidden', 'Requests from pages of other servers are refused.');
      return;
    }
    // Browsers say so where a page of another site asks, also for images and downloads, which have no origin. A person may
    // follow a link to a page; what lies below /api is no page.
    const site = request.get('sec-fetch-site');
    if (site !== undefined && site !== 'same-origin' && site !== 'none' && request.path.startsWith('/api')) {
      sendProblem(response, 'forbidden', 'Requests from pages of other sites are refused.');
      return;
    }
    next();
  };
}

/** What a page may load: its own files alone. `nonce` marks styles that its scripts make. */
export function contentPolicy(nonce?: string): string {
  const sources: Record<string, string> = {
    'default-src': "'self'",
    'script-src': "'self' 'wasm-unsafe-eval'",
    'style-src': nonce === undefined ? "'self'" : `'self' 'nonce-${nonce}'`,
    'img-src': "'self' blob: data:",
    'media-src': "'self' blob:",
    'connect-src': "'self' blob:",
    'worker-src': "'self' blob:",
    'font-src': "'self' data:",
    'object-src': "'none'",
    'frame-ancestors': "'none'",
    'base-uri': "'none'",
    'form-action': "'self'",
  };
  return Object.entries(sources)
    .map(([name, value]) => `${name} ${value}`)
    .join('; ');
}

/** Headers of every answer; isolation is what shared memory in the browser needs. */
export function headers(): RequestHandler {
  const others = helmet({
    contentSecurityPolicy: false,
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    strictTransportSecurity: false,
  });
  return (request, response, next) => {
    response.set('content-security-policy', contentPolicy());
    others(request, response, next);
  };
}
