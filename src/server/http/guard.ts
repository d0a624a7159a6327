/** Refuses requests that come by a foreign name or from a foreign page (DNS rebinding, cross-site). */
import { type RequestHandler } from 'express';
import helmet from 'helmet';
import { sendProblem } from './problem.js';

const OWN_NAMES = ['localhost', '127.0.0.1', '[::1]'];

function hostName(host: string): string {
  return host.replace(/:\d+$/, '').toLowerCase();
}

/** `names` are host names allowed beside this machine's own. */
export function ownHostsOnly(names: string[] = []): RequestHandler {
  const allowed = new Set([...OWN_NAMES, ...names.map((n) => n.toLowerCase())]);
  return (request, response, next) => {
    const host = request.headers.host ?? '';
    if (!allowed.has(hostName(host))) {
      sendProblem(
        response,
        'forbidden',
        `This server does not answer to the name "${host}". Open it as http://localhost, or start it with COLD_EASEL_HOSTS=${hostName(host) || 'NAME'}.`,
      );
      return;
    }
    const { origin } = request.headers;
    if (origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`) {
      sendProblem(response, 'forbidden', `Requests from pages of "${origin}" are refused.`);
      return;
    }
    next();
  };
}

/** Headers of every answer; isolation is what shared memory in the browser needs. */
export function headers(): RequestHandler {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'blob:', 'data:'],
        mediaSrc: ["'self'", 'blob:'],
        connectSrc: ["'self'", 'blob:'],
        workerSrc: ["'self'", 'blob:'],
        fontSrc: ["'self'", 'data:'],
        objectSrc: ["'none'"],
        frameAncestors: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    strictTransportSecurity: false,
  });
}
