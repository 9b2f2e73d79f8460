import { BLENDS, type Construct, page } from './constructs';

/** Numbers that a seed decides (mulberry32, public domain). */
export function randomNumbers(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

class Maker {
  private readonly next: () => number;
  private defs = '';
  private ids = 0;

  constructor(next: () => number) {
    this.next = next;
  }

  between(low: number, high: number): number {
    return Math.round((low + this.next() * (high - low)) * 100) / 100;
  }

  one<T>(values: readonly T[]): T {
    return values[Math.floor(this.next() * values.length)]!;
  }

  private colour(): string {
    return this.one(['#c8382e', '#f2b134', '#1e6f8c', '#3f8f5b', '#5c248c', '#111418', '#fff6df', '#e46a8a']);
  }

  private define(element: string, attributes: string, content: string): string {
    const id = `d${this.ids++}`;
    this.defs += `<${element} id="${id}" ${attributes}>${content}</${element}>`;
    return id;
  }

  private paint(depth: number): string {
    const kind = this.next();
    if (kind < 0.7 || depth > 2) return this.colour();
    const stops = [0, this.between(0.2, 0.8), 1]
      .map((offset) => `<stop offset="${offset}" stop-color="${this.colour()}"/>`)
      .join('');
    if (kind < 0.8) {
      const ends = `x1="${this.between(0, 0.4)}" y1="${this.between(0, 0.4)}" x2="${this.between(0.5, 1)}" y2="${this.between(0.5, 1)}"`;
      return `url(#${this.define('linearGradient', `${ends} spreadMethod="${this.one(['pad', 'reflect', 'repeat'])}"`, stops)})`;
    }
    if (kind < 0.9) {
      return `url(#${this.define('radialGradient', `cx="${this.between(0.3, 0.7)}" cy="${this.between(0.3, 0.7)}" r="${this.between(0.4, 0.8)}"`, stops)})`;
    }
    const size = this.between(14, 40);
    const attributes = `width="${size}" height="${size}" patternUnits="userSpaceOnUse" patternTransform="rotate(${this.between(0, 80)})"`;
    return `url(#${this.define('pattern', attributes, `<circle cx="${size / 2}" cy="${size / 2}" r="${size / 3}" fill="${this.colour()}"/>`)})`;
  }

  private outline(): string {
    const [x, y] = [this.between(-30, 180), this.between(-30, 150)];
    const [w, h] = [this.between(20, 140), this.between(20, 110)];
    return this.one([
      () => `<rect x="${x}" y="${y}" width="${w}" height="${h}" rx="${this.one([0, 0, 9])}"`,
      () => `<ellipse cx="${x}" cy="${y}" rx="${w / 2}" ry="${h / 2}"`,
      () =>
        `<path d="M${x} ${y}Q${x + w} ${y} ${x + w} ${y + h}T${x} ${y + h}C${x - w / 2} ${y} ${x + w} ${y - 20} ${x} ${y}Z" fill-rule="evenodd"`,
      () => `<polygon points="${x},${y} ${x + w},${y + h / 3} ${x + w / 3},${y + h} ${x + w / 2},${y}"`,
    ])();
  }

  private shape(depth: number): string {
    const stroked = this.next() < 0.35;
    const stroke = stroked
      ? `stroke="${this.colour()}" stroke-width="${this.between(2, 14)}" stroke-linejoin="${this.one(['miter', 'round', 'bevel'])}" ${
          this.next() < 0.3 ? `stroke-dasharray="${this.between(8, 20)} ${this.between(6, 14)}"` : ''
        }`
      : '';
    const opacity = this.next() < 0.2 ? `fill-opacity="${this.between(0.3, 0.9)}"` : '';
    return `${this.outline()} fill="${this.paint(depth)}" ${stroke} ${opacity}/>`;
  }

  private attributes(depth: number): string {
    const out: string[] = [];
    if (this.next() < 0.4) {
      out.push(`transform="rotate(${this.between(-40, 40)} 100 80) scale(${this.between(0.6, 1.2)})"`);
    }
    if (this.next() < 0.25) out.push(`opacity="${this.between(0.3, 0.9)}"`);
    if (this.next() < 0.3)
      out.push(`clip-path="url(#${this.define('clipPath', '', `${this.outline()}/>`)})"`);
    if (this.next() < 0.2 && depth < 3) {
      const content = `<rect x="-200" y="-200" width="600" height="600" fill="#555"/>${this.outline()} fill="#fff"/>`;
      const area = 'maskUnits="userSpaceOnUse" x="-300" y="-300" width="900" height="900"';
      out.push(`mask="url(#${this.define('mask', area, content)})"`);
    }
    if (this.next() < 0.15) out.push(`style="mix-blend-mode:${this.one(BLENDS)}"`);
    return out.join(' ');
  }

  group(depth: number): string {
    const count = 2 + Math.floor(this.next() * 3);
    let content = '';
    for (let k = 0; k < count; k++) {
      content += depth < 3 && this.next() < 0.45 ? this.group(depth + 1) : this.shape(depth);
    }
    return `<g ${this.attributes(depth)}>${content}</g>`;
  }

  finish(body: string): string {
    return page(body, this.defs);
  }
}

/** Legal drawings of layers, clips, masks, patterns and gradients at random places and sizes, many of them partly beyond the page. */
export function randomDrawings(seed: number, count: number): Construct[] {
  return Array.from({ length: count }, (_, k) => {
    const maker = new Maker(randomNumbers(seed + k * 7919));
    return { name: `random ${seed + k * 7919}`, svg: maker.finish(maker.group(0) + maker.group(1)) };
  });
}
