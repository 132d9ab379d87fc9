/** A binary heap of whole numbers by their keys, the least first; of equal ones the newest, so that a search goes straight on. */
export class Heap {
  private keys = new Float64Array(1024);
  private items = new Int32Array(1024);
  private count = 0;

  push(key: number, item: number): void {
    if (this.count === this.keys.length) this.grow();
    const { keys, items } = this;
    let i = this.count++;
    for (let up = (i - 1) >> 1; i > 0 && (keys[up] as number) >= key; up = (i - 1) >> 1) {
      keys[i] = keys[up] as number;
      items[i] = items[up] as number;
      i = up;
    }
    keys[i] = key;
    items[i] = item;
  }

  /** The item with the least key; −1 where there is none. */
  pop(): number {
    if (this.count === 0) return -1;
    const { keys, items } = this;
    const top = items[0] as number;
    const n = --this.count;
    const [key, item] = [keys[n] as number, items[n] as number];
    let i = 0;
    for (let down = 1; down < n; down = 2 * i + 1) {
      if (down + 1 < n && (keys[down + 1] as number) < (keys[down] as number)) down++;
      if ((keys[down] as number) >= key) break;
      keys[i] = keys[down] as number;
      items[i] = items[down] as number;
      i = down;
    }
    keys[i] = key;
    items[i] = item;
    return top;
  }

  private grow(): void {
    const [keys, items] = [this.keys, this.items];
    this.keys = new Float64Array(2 * keys.length);
    this.items = new Int32Array(2 * items.length);
    this.keys.set(keys);
    this.items.set(items);
  }
}
