const LETTERS = '0123456789abcdefghijklmnopqrstuvwxyz';

/** A fresh id such as `f_k3v9x0q2m1`: `prefix`, an underscore and ten random base-36 digits (about 51 bits). */
export function newId(prefix: string): string {
  let id = `${prefix}_`;
  for (const byte of crypto.getRandomValues(new Uint8Array(10))) id += LETTERS[byte % 36];
  return id;
}
