import type { ChildProcess } from 'node:child_process';

/** The addresses that a server of Vite prints: its own, and that of the workbench. */
export const GAME = /http:\/\/127\.0\.0\.1:\d+\/(?=\s)/;
export const WORKBENCH = /http:\/\/127\.0\.0\.1:\d+\/#\w+/;

/** What a server prints that looks so. */
export function addressOf(
  server: ChildProcess,
  hear: (text: string) => void = () => undefined,
  address = GAME,
): Promise<string> {
  return new Promise((resolve, reject) => {
    let said = '';
    for (const output of [server.stdout!, server.stderr!])
      output.on('data', (chunk: Buffer) => {
        hear(chunk.toString());
        said += chunk.toString().replaceAll(/\x1b\[[0-9;]*m/g, '');
        const found = address.exec(said)?.[0];
        if (found) resolve(found);
      });
    server.once('exit', () => reject(new Error(said)));
  });
}
