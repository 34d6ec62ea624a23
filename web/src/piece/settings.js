// What the settings of an element, of the plate and of the texts show and change.
import { length } from '../figures.js';
import { cornersOf, kindOf, split, valueAt } from './paths.js';

export const settings = (desk) => ({
  get isLettering() {
    return this.kind === 'lettering';
  },
  get element() {
    return this.view && this.selected ? desk.element(this.selected) : null;
  },
  get relief() {
    return kindOf(this.element?.relief);
  },
  get elementFace() {
    return this.element?.face ?? this.view?.faces[0].name ?? 'front';
  },
  get locked() {
    return this.element?.locked ?? false;
  },
  kindAt(path) {
    return this.view ? kindOf(valueAt(desk, path)) : '';
  },
  /** The kind of an outline; of a shape of one's own its id. */
  outlineAt(path) {
    const kind = this.kindAt(path);
    return kind === 'drawn' ? valueAt(desk, path).drawn.shape : kind;
  },
  /** What a polygon is given by: one figure of its own, or the overall size. */
  polygonBy(path) {
    const polygon = this.view && valueAt(desk, path)?.polygon;
    return polygon?.regular ? kindOf(polygon.regular) : 'stretched';
  },
  /** Whether an outline is as wide and as high as its fields say. */
  hasSides(path) {
    return this.kindAt(path) !== 'polygon' || this.polygonBy(path) === 'stretched';
  },
  get hasRim() {
    return this.view?.elements.some((placed) => placed.kind === 'rim') ?? false;
  },
  get mirrored() {
    return this.element?.mirrored ?? false;
  },
  cornerKind(path) {
    const kinds = new Set(cornersOf(this.view && valueAt(desk, path)).map(kindOf));
    return kinds.size === 1 ? [...kinds][0] : 'mixed';
  },
  /** Chamfers and scoops leave corners of their own. */
  hasEndsToRound(path) {
    return ['chamfer', 'scoop', 'mixed'].includes(this.cornerKind(path));
  },
  hasCornerSize(path) {
    return !['square', 'mixed'].includes(this.cornerKind(path));
  },
  /** Straight words of a letter height can give way where they have no room. */
  get canGive() {
    return (
      this.isLettering &&
      kindOf(this.element?.size) === 'height' &&
      ['straight', 'below'].includes(this.courseKind)
    );
  },
  /** Whether they are smaller than was asked for. */
  get isShrunk() {
    const tall = this.canGive ? desk.placed(this.selected)?.letter_height : null;
    return tall > 0 && tall < this.element.size.height - 5e-3;
  },
  /** The lines of a shape of one's own: how wide they are, and whether it has nothing else. */
  get shapeLines() {
    return (this.kind === 'emblem' && desk.placed(this.selected)?.lines) || null;
  },
  get hasLines() {
    return this.shapeLines !== null;
  },
  get canHaveSection() {
    return this.shapeLines?.alone === true && this.relief === 'raised';
  },
  /** What is inlaid has no edges; a section leaves none. */
  get hasEdges() {
    const isFlat = !this.canHaveSection || this.kindAt('el.stroke.section') === 'flat';
    return this.relief !== 'flush' && isFlat && this.element?.edge !== undefined;
  },
  /** Whether its shape goes by numbers: tips, teeth, crests. */
  get hasNumbers() {
    return (this.kind === 'emblem' && desk.placed(this.selected)?.has_numbers) || false;
  },

  // Places by other elements.
  get others() {
    return (this.view && desk.placed(this.selected)?.others) || [];
  },
  get placedBy() {
    return this.element?.place?.by?.element ?? 'face';
  },
  get canBePlacedBy() {
    return this.others.length > 0 || this.placedBy !== 'face';
  },
  get placedByFace() {
    return this.view?.plate && desk.isPlate ? 'the plate' : 'the face';
  },
  get besideSide() {
    return this.element?.place?.by?.side ?? '';
  },
  get inLine() {
    return this.besideSide === 'middle' ? 'middle' : (this.element?.place?.by?.in_line ?? '');
  },
  inLineWord(line) {
    const isBeside = ['left', 'right'].includes(this.besideSide);
    if (line === 'low') return isBeside ? 'feet in line' : 'left ends in line';
    return isBeside ? 'tops in line' : 'right ends in line';
  },
  get shiftWord() {
    return ['above', 'below'].includes(this.besideSide) ? 'Moved to the right by' : 'Moved up by';
  },
  /** Whether others are placed by it, so that they can count as one row. */
  get leads() {
    const own = this.selected?.split('/')[1];
    const isLed = (placed) => desk.element(placed.id)?.place?.by?.element === own;
    return Boolean(own) && (this.view?.elements.some(isLed) ?? false);
  },
  get putAsRow() {
    return !(this.element?.place?.alone ?? false);
  },
  setSide(event) {
    desk.set(this.selected, 'place.by.side', event.target.value);
  },
  setInLine(event) {
    desk.set(this.selected, 'place.by.in_line', event.target.value);
  },
  setPutAsRow(event) {
    desk.set(this.selected, 'place.alone', !event.target.checked);
  },

  // Plates that grow.
  get canGrow() {
    return desk.isPlate && this.kindAt('blank.outline') !== 'contour';
  },
  growsAt(side) {
    return this.view && desk.blank.grows?.[side] ? 'grows' : 'fixed';
  },
  grownTo(side) {
    if (!this.view) return '';
    const { frame } = this.view.plate;
    return length(side === 'width' ? frame.x1 - frame.x0 : frame.y1 - frame.y0, this.units);
  },

  // Halos.
  goesRound(id) {
    return this.element?.round?.these?.includes(id) ?? false;
  },
  setGoesRound(event) {
    const { value, checked } = event.target;
    const had = this.element.round.these.filter((id) => id !== value);
    desk.set(this.selected, 'round', { these: checked ? [...had, value] : had });
  },
  get haloCorners() {
    return this.element?.corners ?? '';
  },
  setHaloCorners(event) {
    desk.set(this.selected, 'corners', event.target.value);
  },
  get canHaveSteps() {
    const stepped = ['by', 'fraction'].includes(this.kindAt('el.relief.raised'));
    return this.relief === 'recessed' || (this.relief === 'raised' && stepped);
  },
  get hasSteps() {
    return this.element?.steps > 1;
  },

  // Patterns.
  get motif() {
    return this.element?.motif?.shape ?? this.element?.motif ?? '';
  },
  get patternFills() {
    return this.element?.fills?.element ?? 'face';
  },
  get canBeWhole() {
    return !['stripes', 'waves'].includes(this.motif);
  },
  get wholeMotifs() {
    return this.element?.whole ?? false;
  },
  setWholeMotifs(event) {
    desk.set(this.selected, 'whole', event.target.checked);
  },

  // Codes.
  get codeLevel() {
    return this.element?.symbol?.qr ?? '';
  },
  setLevel(event) {
    desk.set(this.selected, 'symbol', { qr: event.target.value });
  },
  get inverse() {
    return this.element?.inverse ?? false;
  },
  setInverse(event) {
    desk.set(this.selected, 'inverse', event.target.checked);
  },

  /** What others stand on is not cut through. */
  canBe(relief) {
    return relief !== 'through' || this.kind !== 'halo';
  },
  get lineWidthKind() {
    return this.element?.stroke?.width === null ? 'drawn' : 'own';
  },
  get linesAsDrawn() {
    const now = this.lineWidthKind === 'drawn' ? `, ${length(this.shapeLines?.width ?? 0, this.units)}` : '';
    return `lines as drawn${now}`;
  },
  get lineEnds() {
    return this.element?.stroke?.ends ?? '';
  },
  setLineEnds(event) {
    desk.set(this.selected, 'stroke.ends', event.target.value);
  },
  get lineCount() {
    return this.isLettering ? this.element.lines.length : 0;
  },
  get linesMeet() {
    return this.element?.align ?? '';
  },
  get capitals() {
    return this.element?.style?.capitals ?? false;
  },
  get sitsBy() {
    return this.element?.sits_by ?? '';
  },
  get courseKind() {
    const course = this.element?.course;
    if (course?.outline) return 'outline';
    return course?.circle?.reading ?? (course?.round ? 'round' : (course ?? 'straight'));
  },
  // Words along an outline.
  get outlineOf() {
    return this.element?.course?.outline?.of?.element ?? 'face';
  },
  get outlineReading() {
    return this.element?.course?.outline?.reading ?? '';
  },
  setOutlineReading(event) {
    desk.set(this.selected, 'course.outline.reading', event.target.value);
  },
  get outlineSpread() {
    return (this.element?.course?.outline?.spread ?? null) === null ? 'natural' : 'spread';
  },
  get isOnCircle() {
    return Boolean(this.element?.course?.circle);
  },
  /** Whether words can be spread round: where the face runs round, or they are already. */
  get runsRound() {
    return Boolean(this.view?.chart?.round) || this.courseKind === 'round';
  },
  get circleSide() {
    return this.element?.course?.circle?.side ?? '';
  },
  get spreadKind() {
    return (this.element?.course?.circle?.spread ?? null) === null ? 'natural' : 'spread';
  },
  get span() {
    return this.view && this.selected ? `${desk.placed(this.selected).span.toFixed(1)}°` : '';
  },
  get letterHeight() {
    return this.view && this.selected
      ? length(desk.placed(this.selected).letter_height, this.units, this.units === 'in' ? 4 : 2)
      : '';
  },
  lineTypeface(index) {
    return this.element?.lines?.[index]?.typeface ?? '';
  },
  get ribbon() {
    return this.kind === 'loop' && this.element.ribbon !== null ? 'ribbon' : 'round';
  },
  get thicknessKind() {
    return this.kind === 'loop' && this.element.own !== null ? 'own' : 'plate';
  },
  get holeShape() {
    return kindOf(this.element?.shape);
  },
  get holeDepth() {
    return this.kind === 'hole' && this.element.depth !== null ? 'blind' : 'through';
  },
  get repeatKind() {
    return kindOf(this.element?.repeat) || 'once';
  },

  setMirrored(event) {
    desk.set(this.selected, 'mirrored', event.target.checked);
  },
  setAlign(event) {
    desk.set(this.selected, 'align', event.target.value);
  },
  setCapitals(event) {
    desk.set(this.selected, 'style.capitals', event.target.checked);
  },
  setSitsBy(event) {
    desk.set(this.selected, 'sits_by', event.target.value);
  },
  setLineTypeface(event) {
    desk.set(this.selected, `lines.${event.target.dataset.line}.typeface`, event.target.value || null);
  },
  setCircleSide(event) {
    desk.set(this.selected, 'course.circle.side', event.target.value);
  },
  /** Gives what a list or a row of buttons stands for the kind that was chosen. */
  turn(event) {
    desk.turn(...split(desk, event.target.dataset.turn), event.target.value);
  },
  setFace(event) {
    const face = event.target.value;
    desk.edit([{ set: { target: this.selected, field: 'face', value: face } }], {
      done: () => desk.lookFor(this.selected),
    });
  },
  toggleLock() {
    desk.set(this.selected, 'locked', !this.locked);
  },

  // Texts of the piece.
  get inputs() {
    return (this.view?.piece.inputs ?? []).map((input, index) => ({ ...input, index }));
  },
  get inputCount() {
    return this.view?.piece.inputs.length ?? 0;
  },
  addInput() {
    const names = desk.view.piece.inputs.map((input) => input.name);
    const name =
      ['name', 'berth', 'section', 'initials'].find((one) => !names.includes(one)) ??
      `text-${names.length + 1}`;
    desk.set('piece', 'inputs', [...desk.view.piece.inputs, { name, value: '', counts: null }]);
  },
  countsAt(index) {
    return Boolean(this.view?.piece.inputs[index]?.counts);
  },
  setCounts(event) {
    const { index } = event.target.dataset;
    desk.turn('piece', `inputs.${index}.counts`, event.target.checked ? 'counts' : 'plain');
  },
  removeInput(event) {
    desk.set(
      'piece',
      'inputs',
      desk.view.piece.inputs.filter((_, index) => index !== Number(event.currentTarget.dataset.index)),
    );
  },
});
