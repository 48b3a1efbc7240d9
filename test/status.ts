/** How a piece of work ends, as a status: 200, or that of its refusal. */
export const status = (work: Promise<unknown>): Promise<number> =>
  work.then(
    () => 200,
    (error) => error.status as number,
  );

/** The same with its words: "done", or what its refusal says. */
export const told = (work: Promise<unknown>): Promise<string> =>
  work.then(
    () => "done",
    (error) => `${error.status} ${error.message}`,
  );
