import { suggest, UnspoolError, type Clip, type Reel } from 'unspool';
import { CallError } from './failure.js';

/** The clip that the call names. Chains get a message of their own. */
export function clipOf(reel: Reel, name: string): Clip {
  try {
    return reel.clip(name);
  } catch (error) {
    if (!(error instanceof UnspoolError)) throw error;
    if (Object.hasOwn(reel.document.chains ?? {}, name)) {
      throw new CallError(`${name} is a chain, but this command needs a clip`, suggest('', Object.keys(reel.clips)));
    }
    throw new CallError(`unknown clip ${JSON.stringify(name)}`, suggest(name, Object.keys(reel.clips)));
  }
}
