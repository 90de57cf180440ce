/** Chance from a seed: the same seed throws the same dice (xorshift32). */
export class Dice {
  private state: number;
  constructor(seed: number) {
    this.state = (Math.imul(seed, 0x9e3779b1) ^ 0x2545f491) | 0 || 1;
    for (let i = 0; i < 4; i += 1) this.roll();
  }
  /** 0 ≤ … < 1 */
  roll(): number {
    let x = this.state;
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    this.state = x;
    return (x >>> 0) / 0x100000000;
  }
  /** A whole number, least and most included. */
  between(least: number, most: number): number {
    return least + Math.floor(this.roll() * (most - least + 1));
  }
  chance(share: number): boolean {
    return this.roll() < share;
  }
}
