/**
 * Three states of the same nested data: what a change was made from, what it makes of that, and what is there by now.
 */

type Data = Record<string, unknown>;

export function isSame(one: unknown, other: unknown): boolean {
  return one === other || JSON.stringify(one) === JSON.stringify(other);
}

/** Whether all are plain data of the same names: what is of another kind is another thing, and replaced as a whole. */
function areAlike(...all: unknown[]): boolean {
  const names = all.map((one) =>
    typeof one === "object" && one !== null && !Array.isArray(one) ? Object.keys(one).sort().join() : undefined,
  );
  return names[0] !== undefined && names.every((one) => one === names[0]);
}

/**
 * Return what is there by now with what the change changed, value by value. What was put at the end of a list is put at
 * its end by now; any other change of how long a list is replaces it, where its things have no numbers.
 */
export function merged<Whole>(now: Whole, before: Whole, wanted: Whole): Whole {
  if (now === before) return wanted;
  if (isSame(before, wanted)) return now;
  if (Array.isArray(now) && Array.isArray(before) && Array.isArray(wanted))
    return mergedLists(now, before, wanted) as Whole;
  if (!areAlike(now, before, wanted)) return wanted;
  const names = Object.keys(wanted as Data);
  return Object.fromEntries(
    names.map((name) => [name, merged((now as Data)[name], (before as Data)[name], (wanted as Data)[name])]),
  ) as Whole;
}

function mergedLists(now: unknown[], before: unknown[], wanted: unknown[]): unknown[] {
  if ([now, before, wanted].every((list) => list.every(hasId)))
    return mergedById(now as Named[], before as Named[], wanted as Named[]);
  if (wanted.length > before.length && isSame(wanted.slice(0, before.length), before))
    return [...now, ...wanted.slice(before.length)];
  const areThings = [...now, ...wanted].every((one) => typeof one === "object");
  if (!areThings || now.length !== before.length || wanted.length !== before.length) return wanted;
  return wanted.map((one, place) => merged(now[place], before[place], one));
}

type Named = Data & { id: number };

function hasId(one: unknown): one is Named {
  return typeof one === "object" && one !== null && typeof (one as Data).id === "number";
}

/** Things that have numbers are told by them: each is changed, taken out or put in wherever it is by now. */
function mergedById(now: Named[], before: Named[], wanted: Named[]): Named[] {
  const [there, was, wish] = [now, before, wanted].map((list) => new Map(list.map((one) => [one.id, one])));
  const ids = (list: Named[]) => list.map((one) => one.id).filter((id) => was!.has(id) && wish!.has(id));
  const isMoved = !isSame(ids(before), ids(wanted));
  const order = isMoved
    ? [...wanted, ...now.filter((one) => !was!.has(one.id))]
    : [...now, ...wanted.filter((one) => !was!.has(one.id))];
  return order.flatMap(({ id }) => {
    const [mine, its, old] = [wish!.get(id), there!.get(id), was!.get(id)];
    // Taken out by either it is gone.
    if (old && !(mine && its)) return [];
    return [old ? merged(its!, old, mine!) : (mine ?? its!)];
  });
}

/**
 * Whether a step that the change touches was changed otherwise meanwhile: who decides about the fit decides by what is
 * seen of the whole of it.
 */
export function areAtOdds<Whole extends object>(before: Whole, wanted: Whole, now: Whole): boolean {
  const names = Object.keys(wanted) as (keyof Whole)[];
  return names.some(
    (name) => ![before[name], now[name]].some((one) => isSame(one, wanted[name])) && !isSame(before[name], now[name]),
  );
}
