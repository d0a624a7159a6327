/** `easel drop-off`: a stand-in for a client's upload, to try deliveries with. */
import path from 'node:path';
import { Option } from 'commander';
import { startDropOff } from '../../engine/node/dropOffStand.js';
import { type Command, InputError } from '../command.js';

interface DropOffOptions {
  port: string;
}

/** `easel drop-off`. */
export const dropOffCommand: Command<DropOffOptions> = {
  name: 'drop-off',
  summary: 'take packages by HTTP on this machine, as a client’s upload would, until it is stopped',
  argument: ['folder', 'where what comes is kept'],
  options: [new Option('--port <port>', 'port to listen on').default('4871')],
  async run(folder, { port }, say) {
    if (!/^\d{1,5}$/.test(port) || Number(port) > 65_535) throw new InputError(`--port ${port} is no port; give a number up to 65535.`);
    const stand = await startDropOff(path.resolve(folder), Number(port)).catch((e: NodeJS.ErrnoException) => {
      throw e.code === 'EADDRINUSE' ? new InputError(`Port ${port} is taken by another program; choose another with --port.`) : e;
    });
    say(`Packages are taken at ${stand.url}, and kept in ${path.resolve(folder)}. Ctrl-C stops it.`);
    await new Promise<void>((resolve) => process.once('SIGINT', resolve).once('SIGTERM', resolve));
    await stand.close();
    return { folder: path.resolve(folder) };
  },
};
