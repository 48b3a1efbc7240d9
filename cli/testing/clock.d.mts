declare global {
  /** The clock of the machine, where `Date` tells another time. */
  var RealDate: DateConstructor | undefined;
}

/** What a `Date` is put into: this process, or the window of a browser. */
interface World {
  Date: DateConstructor;
  RealDate?: DateConstructor;
}

export function shifting(world: World, shift: number): void;
