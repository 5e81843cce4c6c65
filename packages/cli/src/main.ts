import { Command, CommanderError } from 'commander';
import { addAlter } from './commands/alter.js';
import { addCheck } from './commands/check.js';
import { addCompare } from './commands/compare.js';
import { addCompile } from './commands/compile.js';
import { addDraw } from './commands/draw.js';
import { addEdit } from './commands/edit.js';
import { addNew } from './commands/new.js';
import { addSample } from './commands/sample.js';
import { addShow } from './commands/show.js';
import { addTrace } from './commands/trace.js';
import { addTypes } from './commands/types.js';
import { CallError, EXIT, reportFailure } from './failure.js';
import { version } from './version.js';

const program = new Command('unspool')
  .description('Looks at reels, checks them and plays them, without a screen.')
  .version(version)
  .showHelpAfterError('Run it with --help for its options and an example.')
  .addHelpText(
    'after',
    '\nExit codes: 0 fine, 1 the reel has problems, 2 the call was wrong or a file could not be used.',
  )
  .exitOverride();

for (const add of [
  addCheck,
  addShow,
  addSample,
  addTrace,
  addDraw,
  addNew,
  addEdit,
  addAlter,
  addCompare,
  addTypes,
  addCompile,
])
  add(program);
for (const command of program.commands) {
  command.exitOverride().showHelpAfterError(`Run \`unspool ${command.name()} --help\` for its options and an example.`);
}

// A reader that stops reading early (`| head`) is not a failure.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(process.exitCode ?? EXIT.fine);
  throw error;
});

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? EXIT.fine : EXIT.call;
  else if (error instanceof CallError) process.exitCode = reportFailure(error);
  else throw error;
}
