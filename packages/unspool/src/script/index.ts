/**
 * `unspool/test`: interactions without a screen, for unit tests.
 * @module
 */
export { runScript, type RunOptions, type ScriptActor, type ScriptLine } from './run-script.js';
export { ScriptError, type Script, type ScriptStep } from './read-script.js';
