/** Moving rows by hand: drag a row by its title, and it lands before, after or in another; what is chosen goes together. */
import {
  DndContext,
  type DragEndEvent,
  type DragMoveEvent,
  type DragOverEvent,
  DragOverlay,
  getClientRect,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { type ReactNode, useState } from "react";
import { apply } from "../../contracts/change.ts";
import { lookAtAct } from "../../contracts/life.ts";
import type { LifeAct } from "../../core/lifecycle/index.ts";
import { tray } from "../change/store.ts";
import { openAct } from "../life/opened.ts";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import styles from "./grid.module.css";
import type { ShownRow } from "./rows.ts";
import { type Landing, moveTo } from "./shifting.ts";

interface Over {
  id: string;
  landing: Landing;
}

/** Where in a row something would land: a third of its height each; what is no page takes things in only. */
function landingIn(row: ShownRow, offset: number, height: number): Landing {
  if (row.kind !== "page") return "into";
  if (offset < height / 3) return "before";
  return offset > (height * 2) / 3 ? "after" : "into";
}

/** Does a move at once where it changes nobody's access and breaks nothing; else its sheet asks. */
export async function drop(act: LifeAct): Promise<void> {
  try {
    const sheet = await ask(lookAtAct, { body: { act } });
    const quiet =
      sheet.ripple.empty &&
      sheet.refusals.length + sheet.misfits.length + sheet.choices.length === 0 &&
      sheet.breaks.every(({ count }) => count === 0);
    if (!quiet) return openAct(act);
    const { seq } = await ask(apply, { body: { edits: [], acts: [act], note: "", seen: sheet.seen } });
    tray.done(seq, sheet.title);
    say(`${sheet.title}: done.`);
    await queries.invalidateQueries();
  } catch {
    // The sheet says what is in the way.
    openAct(act);
  }
}

/** Rows are put where they stand by a transform, which counts. */
const AS_SHOWN = { droppable: { measure: getClientRect }, draggable: { measure: getClientRect } };

/** The view says itself what a drop did; ids mean nothing to anybody. */
const SAID = {
  onDragStart: () => "Moving.",
  onDragOver: () => undefined,
  onDragEnd: () => undefined,
  onDragCancel: () => "Left where it was.",
};

interface Props {
  rows: ShownRow[];
  chosen: ReadonlySet<string>;
  children(over: Over | null): ReactNode;
}

export function Dragging({ rows, chosen, children }: Props) {
  const [dragged, setDragged] = useState<string[]>([]);
  const [over, setOver] = useState<Over | null>(null);
  // A click stays a click: dragging begins after a few pixels.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const overOf = ({ over: target, activatorEvent, delta }: DragMoveEvent | DragOverEvent | DragEndEvent): Over | null => {
    const row = rows.find(({ id }) => id === target?.id);
    if (!target || !row) return null;
    const y = (activatorEvent as PointerEvent).clientY + delta.y;
    return { id: row.id, landing: landingIn(row, y - target.rect.top, target.rect.height) };
  };
  const end = (event: DragEndEvent) => {
    const target = overOf(event);
    const act = target && moveTo(rows, dragged, target);
    setDragged([]);
    setOver(null);
    if (act) void drop(act);
  };
  const title = rows.find(({ id }) => id === dragged[0])?.title ?? "";
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      measuring={AS_SHOWN}
      // What is said while dragging stands after everything else, and says nothing of ids.
      accessibility={{ container: document.body, announcements: SAID, screenReaderInstructions: { draggable: "" } }}
      onDragStart={({ active }) => {
        const id = String(active.id);
        setDragged(chosen.has(id) ? [...chosen] : [id]);
      }}
      onDragMove={(event) => setOver(overOf(event))}
      onDragOver={(event) => setOver(overOf(event))}
      onDragEnd={end}
      onDragCancel={() => {
        setDragged([]);
        setOver(null);
      }}
    >
      {children(over)}
      <DragOverlay dropAnimation={null}>
        {dragged.length > 0 && (
          <div className={styles.dragged}>{dragged.length === 1 ? title : `${title} and ${dragged.length - 1} more`}</div>
        )}
      </DragOverlay>
    </DndContext>
  );
}

/** A row as something that is dragged and dropped upon. */
export function useDragRow(row: ShownRow) {
  const drag = useDraggable({ id: row.id, disabled: !row.acts.includes("move") });
  const dropping = useDroppable({ id: row.id });
  return { handle: drag.setNodeRef, listeners: drag.listeners, target: dropping.setNodeRef, isDragging: drag.isDragging };
}
