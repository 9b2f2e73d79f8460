// Written by scripts/buildKernels.mjs from src/kernels/assembly, where each kernel is explained.

/** What the compiled module offers; every number is an address or a count unless its name says otherwise. */
export interface KernelExports {
  addPart(
    sum: number,
    row: number,
    weights: number,
    width: number,
  ): void;
  addRow(
    sum: number,
    row: number,
    width: number,
    weight: number,
  ): void;
  beginEncoding(
    codesAt: number,
    state: number,
    outAt: number,
  ): void;
  beginPlate(
    widthPx: number,
    longestAtOnce: number,
    aboveAt: number,
    lineAt: number,
  ): void;
  beginTone(
    plane: number,
    stride: number,
    width: number,
    height: number,
    radius: number,
    tone: number,
    across: number,
    any: number,
    anyAcross: number,
  ): void;
  blendEach(
    row: number,
    from: number,
    parts: number,
    count: number,
    out: number,
  ): void;
  blendWords(
    row: number,
    bases: number,
    picks: number,
    parts: number,
    times: number,
    out: number,
  ): void;
  boundaryLines(
    maskAt: number,
    w: number,
    h: number,
    y: number,
    out: number,
  ): number;
  codeRows(
    bytes: number,
    positions: number,
    rows: number,
  ): void;
  codeThresholds(
    thresholds: number,
    count: number,
    first: number,
    out: number,
  ): void;
  countMixed(
    label: number,
    count: number,
  ): number;
  countNearLines(
    linesAt: number,
    count: number,
    w: number,
    h: number,
    radiusPx: number,
    runsAt: number,
  ): void;
  encodeRow(
    line: number,
    above: number,
    end: number,
  ): void;
  encodeRow(
    sum: number,
    from: number,
    weights: number,
    taps: number,
    count: number,
    codes: number,
    steps: number,
    out: number,
  ): void;
  endEncoding(
    state: number,
  ): number;
  g4EncodeRows(
    rowsAt: number,
    rowBytes: number,
    rows: number,
    width: number,
    codesAt: number,
    listsAt: number,
    state: number,
    outAt: number,
  ): number;
  g4Finish(
    state: number,
    outAt: number,
  ): number;
  groundRow(
    row: number,
    width: number,
    at: number,
  ): void;
  growTone(
    plane: number,
    stride: number,
    width: number,
    height: number,
    from: number,
    anyFrom: number,
    to: number,
    anyTo: number,
  ): number;
  lastList(
  ): number;
  layBare(
    label: number,
    width: number,
    bare: number,
  ): void;
  layBase(
    label: number,
    above: number,
    below: number,
    darkAbove: number,
    darkBelow: number,
    part: number,
    width: number,
    based: number,
    dark: number,
    strength: number,
  ): void;
  layTone(
    label: number,
    above: number,
    below: number,
    part: number,
    width: number,
    shape: number,
    tone: number,
    bare: number,
  ): void;
  markCounted(
    runsAt: number,
    w: number,
    h: number,
    out: number,
  ): void;
  mixPixels(
    pixels: number,
    label: number,
    tone: number,
    from: number,
    count: number,
    first: number,
    base: number,
    opaque: number,
    leaveEdges: number,
    known: number,
    mixed: number,
    mixAt: number,
    mixLabels: number,
    mixShares: number,
    left: number,
    counts: number,
  ): number;
  namePixels(
    pixels: number,
    from: number,
    count: number,
    empty: number,
    opaque: number,
    colours: number,
    labels: number,
    out: number,
  ): number;
  nearestPairs(
    row: number,
    first: number,
    width: number,
    isLast: number,
    beside: number,
    out: number,
  ): number;
  nearestSet(
    set: number,
    width: number,
    height: number,
    reach: number,
    rowsAt: number,
    downAt: number,
    nearest: number,
  ): void;
  paintGradient(
    words: number,
    count: number,
    x: number,
    y: number,
    form: number,
    stops: number,
    stopCount: number,
    opacity: number,
  ): void;
  printBase(
    row: number,
    based: number,
    floor: number,
    width: number,
    shape: number,
    tone: number,
    ink: number,
  ): void;
  printBeside(
    row: number,
    backing: number,
    used: number,
    based: number,
    floor: number,
    usedOn: number,
    width: number,
    shape: number,
    tone: number,
    ink: number,
  ): void;
  printLayer(
    row: number,
    width: number,
    shape: number,
    tone: number,
    ink: number,
  ): void;
  screenStack(
    shape: number,
    tone: number,
    taken: number,
    thresholds: number,
    width: number,
    out: number,
  ): void;
  screenStrip(
    shape: number,
    tone: number,
    thresholds: number,
    width: number,
    out: number,
  ): void;
  screenTones(
    above: number,
    below: number,
    part: number,
    thresholds: number,
    width: number,
    out: number,
  ): void;
  spreadBytes(
    row: number,
    bases: number,
    picks: number,
    times: number,
    out: number,
  ): void;
  spreadWords(
    row: number,
    bases: number,
    picks: number,
    times: number,
    out: number,
  ): void;
  stackTones(
    above: number,
    below: number,
    part: number,
    table: number,
    taken: number,
    thresholds: number,
    width: number,
    out: number,
  ): void;
  stampDiscs(
    discs: number,
    count: number,
    width: number,
    height: number,
    out: number,
  ): void;
  toneFields(
    entries: number,
    lanes: number,
    colours: number,
    wanted: number,
    count: number,
    line: number,
    planes: number,
    planeBytes: number,
  ): void;
  tonePlanes(
    pixels: number,
    mixAt: number,
    mixLabels: number,
    mixShares: number,
    table: number,
    plates: number,
    highlight: number,
    count: number,
    planes: number,
    planeBytes: number,
    about: number,
  ): number;
  toneRow(
    upper: number,
    lower: number,
    part: number,
    positions: number,
  ): void;
  uniformAcross(
    label: number,
    width: number,
    out: number,
  ): void;
  uniformDown(
    across: number,
    stride: number,
    height: number,
    out: number,
  ): void;
  weighRow(
    row: number,
    weights: number,
    count: number,
    found: number,
  ): number;
}
