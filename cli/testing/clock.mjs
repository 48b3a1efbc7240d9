/**
 * The clock of tests: a process that is given `TESORO_CLOCK_SHIFT` (milliseconds) lives so much later or earlier than it
 * is. The demo of the tests is made once, for one instant, and everything that looks at it has to live at that instant:
 * the test, the server it starts, their libraries. So it is not handed from function to function but put in at the edge
 * of each process: children get this file by `NODE_OPTIONS`, browsers get `shifting` as a script of every document.
 */

/**
 * Makes `Date` of a world tell another time; what is asked for by its parts or by a number stays what it is. Written to
 * stand alone: browsers are given its text.
 */
export function shifting(world, shift) {
  const Real = world.RealDate ?? world.Date;
  world.RealDate = Real;
  const now = () => Real.now() + shift;
  world.Date = new Proxy(Real, {
    construct: (real, parts, made) => Reflect.construct(real, parts.length === 0 ? [now()] : parts, made === world.Date ? real : made),
    apply: () => new Real(now()).toString(),
    get: (real, name) => (name === "now" ? now : Reflect.get(real, name)),
  });
  Real.prototype.constructor = world.Date;
}

const given = process.env.TESORO_CLOCK_SHIFT;
if (given) shifting(globalThis, Number(given));
