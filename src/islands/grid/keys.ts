/** The keys of the grid, for the list that `?` shows. */
export const GRID_KEYS: [string, string][] = [
  ["Arrows", "move; on the tree, open and close"],
  ["Home, End", "the first and the last row"],
  ["Page up, Page down", "a screen of rows"],
  ["1 – 5", "choose a level in a cell"],
  ["0", "nothing in a cell"],
  ["Space", "the ladder of levels; on the title, choose the row"],
  ["w", "why a cell is as it is"],
  ["f", "the rules of a row, to fence it"],
  ["a, b, m, t", "archive, bin, move, take down; of what is gone, unarchive and restore"],
  ["Alt and arrows", "a page one earlier or later, into the one before it, or out of the one it is in"],
  ["Drag a title", "move it, and what is chosen, before, after or into another row"],
  ["Enter", "the slip of a row"],
  ["Escape", "close what lies nearest"],
  [".", "to the tray"],
  ["/", "find a place"],
  ["?", "these keys, and away with them"],
];
