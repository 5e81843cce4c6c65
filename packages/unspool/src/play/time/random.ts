/**
 * Returns a generator of random numbers in [0, 1) from a seed, the same on every machine. A counter is put through the
 * mixing function of MurmurHash3 (https://github.com/aappleby/smhasher/blob/master/src/MurmurHash3.cpp, `fmix32`, public domain).
 *
 * @param seed any number; the low 32 bits of its integer part are used
 */
export function randomNumbers(seed: number): () => number {
  let counter = Math.trunc(seed) | 0;
  return () => {
    counter = (counter + 0x9e3779b9) | 0;
    let n = counter;
    n = Math.imul(n ^ (n >>> 16), 0x85ebca6b);
    n = Math.imul(n ^ (n >>> 13), 0xc2b2ae35);
    return ((n ^ (n >>> 16)) >>> 0) / 2 ** 32;
  };
}
