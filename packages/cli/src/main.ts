import { Command, CommanderError } from 'commander';
import { CallError, EXIT, reportFailure, writeFailure } from './failure.js';
import { version } from './package-files.js';

/** What adds each command. It is loaded when it runs: no one else waits for the server or the renderer. */
const COMMANDS: Readonly<Record<string, () => Promise<(program: Command) => void>>> = {
  check: async () => (await import('./commands/check.js')).addCheck,
  show: async () => (await import('./commands/show.js')).addShow,
  sample: async () => (await import('./commands/sample.js')).addSample,
  trace: async () => (await import('./commands/trace.js')).addTrace,
  draw: async () => (await import('./commands/draw.js')).addDraw,
  new: async () => (await import('./commands/new.js')).addNew,
  edit: async () => (await import('./commands/edit.js')).addEdit,
  alter: async () => (await import('./commands/alter.js')).addAlter,
  compare: async () => (await import('./commands/compare.js')).addCompare,
  types: async () => (await import('./commands/types.js')).addTypes,
  convert: async () => (await import('./commands/convert.js')).addConvert,
  compile: async () => (await import('./commands/compile.js')).addCompile,
};

const program = new Command('unspool')
  .description('Checks, shows, plays and edits reels.')
  .version(version)
  .showHelpAfterError('Run it with --help for options and examples.')
  .addHelpText('after', '\nExit codes: 0 success, 1 the reel has problems, 2 invalid call or unusable file.')
  .exitOverride();

// The output goes to a reader that has stopped (`| head`): not a failure.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(process.exitCode ?? EXIT.fine);
  process.exit(reportFailure(writeFailure(error, 'standard output', 'the output is incomplete')));
});
process.stderr.on('error', () => process.exit(process.exitCode ?? EXIT.call));

const [first = ''] = process.argv.slice(2);
/** Without a command, all are listed. */
const wanted = Object.hasOwn(COMMANDS, first) ? [first] : /^(-V|--version)$/.test(first) ? [] : Object.keys(COMMANDS);
for (const name of wanted) (await COMMANDS[name]!())(program);
for (const command of program.commands) {
  command.exitOverride().showHelpAfterError(`Run \`unspool ${command.name()} --help\` for options and examples.`);
}

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? EXIT.fine : EXIT.call;
  else if (error instanceof CallError) process.exitCode = reportFailure(error);
  else throw error;
}
