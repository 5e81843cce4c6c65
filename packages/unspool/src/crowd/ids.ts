import { resized, roomFor } from './room.js';

/** An id is the slot of an instance, and above it how often the slot was taken before. */
const SLOTS = 2 ** 24;

/** Which ids there are, and where their instances are. */
export class Ids {
  /** By slot: the index of the instance's group, and its place in there. */
  groups = new Uint16Array(0);
  places = new Int32Array(0);
  /** How often the slot was taken before. */
  #turns = new Uint8Array(0);
  #free: number[] = [];
  #taken = 0;

  slotOf(id: number): number {
    return id % SLOTS;
  }

  /** Whether a number can be an id: whether it has a slot. */
  mayBe(id: number): boolean {
    return id >= 0 && this.slotOf(id) < this.#taken;
  }

  /** Takes a slot, and returns the id that it makes. */
  take(): number {
    const slot = this.#free.pop() ?? this.#newSlot();
    return this.#turns[slot]! * SLOTS + slot;
  }

  release(id: number): void {
    const slot = this.slotOf(id);
    this.#turns[slot] = this.#turns[slot]! + 1;
    this.#free.push(slot);
  }

  put(id: number, group: number, place: number): void {
    const slot = this.slotOf(id);
    this.groups[slot] = group;
    this.places[slot] = place;
  }

  save(): { readonly turns: readonly number[]; readonly free: readonly number[] } {
    return { turns: [...this.#turns.subarray(0, this.#taken)], free: [...this.#free] };
  }

  load({ turns, free }: ReturnType<Ids['save']>): void {
    this.#makeRoom(turns.length);
    this.#turns.set(turns);
    this.#taken = turns.length;
    this.#free = [...free];
  }

  #newSlot(): number {
    this.#makeRoom(this.#taken + 1);
    return this.#taken++;
  }

  #makeRoom(count: number): void {
    if (count <= this.places.length) return;
    const room = roomFor(count);
    this.groups = resized(this.groups, room);
    this.places = resized(this.places, room);
    this.#turns = resized(this.#turns, room);
  }
}
