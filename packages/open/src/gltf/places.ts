import { refuse } from '../errors.js';
import { pointer } from '../report.js';
import type { Json } from './container.js';

/** A value in the JSON of a file that no one has checked, and where it is. Each reader refuses what it does not expect. */
export class Place {
  constructor(
    readonly value: unknown,
    readonly path: readonly (string | number)[] = [],
  ) {}

  get pointer(): string {
    return pointer(...this.path);
  }

  refuse(what: string, hint = 'export the file again'): never {
    refuse('gltf', `${this.pointer || 'the file'}: ${what}`, hint);
  }

  get isThere(): boolean {
    return this.value !== undefined;
  }

  at(member: string): Place {
    const { value } = this;
    if (typeof value !== 'object' || value === null || Array.isArray(value)) this.refuse('not an object');
    const found = Object.hasOwn(value, member) ? (value as Json)[member] : undefined;
    return new Place(found, [...this.path, member]);
  }

  /** The items of a list; none when it is not there. */
  list(): Place[] {
    if (!this.isThere) return [];
    if (!Array.isArray(this.value)) this.refuse('not a list');
    return this.value.map((item: unknown, i) => new Place(item, [...this.path, i]));
  }

  /** A whole number from 0 to `below`. */
  index(below: number, otherwise?: number): number {
    if (!this.isThere && otherwise !== undefined) return otherwise;
    const { value } = this;
    if (typeof value !== 'number' || !Number.isInteger(value) || value < 0 || value >= below)
      this.refuse(`${JSON.stringify(value)} is not a whole number from 0 to ${below - 1}`);
    return value;
  }

  text(): string | undefined {
    if (!this.isThere) return undefined;
    if (typeof this.value !== 'string') this.refuse(`${JSON.stringify(this.value)} is not text`);
    return this.value;
  }

  /** A list of finite numbers of a length. */
  numbers(length: number): readonly number[] | undefined {
    if (!this.isThere) return undefined;
    const { value } = this;
    const isValid = Array.isArray(value) && value.length === length && value.every((n) => Number.isFinite(n));
    if (!isValid) this.refuse(`not a list of ${length} numbers`);
    return value as number[];
  }
}
