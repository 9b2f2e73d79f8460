import { type JobSheet, type Plate, type Station } from '../sheet';

/** Where a station of the run stands on press. */
export interface PressPlace {
  readonly station: Station;
  readonly plate: Plate | null;
  /** 1 to n round the press; null for the mark of another turn. */
  readonly head: number | null;
  /** 1 for the first time round. */
  readonly turn: number;
  /** A screen that was mounted in an earlier turn and prints again from its own head. */
  readonly again: boolean;
}

export interface PressPlan {
  readonly places: readonly PressPlace[];
  readonly headsUsed: number;
  readonly flashesUsed: number;
  readonly turns: number;
}

/**
 * Puts a run on a press: screens, flashes, cooling and empty heads take a head each; a screen that prints again in a later
 * turn does so from the head it has. A flash in a later turn is the one beside it already, where there is one.
 */
export function planPress(sheet: Pick<JobSheet, 'plates' | 'run'>): PressPlan {
  const places: PressPlace[] = [];
  const headOf = new Map<string, number>();
  const flashHeads: number[] = [];
  let next = 1;
  let turn = 1;
  let last = 0;
  for (const station of sheet.run) {
    if (station.kind === 'turn') {
      turn++;
      last = 0;
      places.push({ station, plate: null, head: null, turn, again: false });
      continue;
    }
    let head: number;
    let again = false;
    if (station.kind === 'screen') {
      const mounted = headOf.get(station.plateId);
      // In one turn a garment passes each head once: to print twice in it takes a second screen.
      again = mounted !== undefined && turn > 1 && mounted > last;
      head = again ? mounted! : next++;
      headOf.set(station.plateId, head);
    } else if (station.kind === 'flash') {
      const standing = turn > 1 ? flashHeads.find((each) => each > last) : undefined;
      again = standing !== undefined;
      head = standing ?? next++;
      if (!again) flashHeads.push(head);
    } else head = next++;
    last = head;
    const plate =
      station.kind === 'screen' ? (sheet.plates.find((each) => each.id === station.plateId) ?? null) : null;
    places.push({ station, plate, head, turn, again });
  }
  return { places, headsUsed: next - 1, flashesUsed: flashHeads.length, turns: turn };
}
