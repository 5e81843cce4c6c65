import { UnspoolError } from 'unspool';

/** Thrown for a file that cannot be converted: nothing is returned of it. */
export class ConversionError extends UnspoolError {
  override readonly name: string = 'ConversionError';
}

export function refuse(code: string, message: string, hint: string): never {
  throw new ConversionError(`open/${code}`, message, hint);
}
