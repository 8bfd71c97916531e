import {
  type Announcements,
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { ArrowDown, ArrowUp, Copy, GripVertical, Trash2 } from "lucide-react";
import { type Block, blockTitle, type Clock, clockText } from "../../core/warmup";

interface Props {
  blocks: Block[];
  clock: Clock | null;
  chosen: string;
  /** The block that sounds now. */
  sounding: string;
  /** Short names of instruments that are not ready, by block. */
  notReady: (block: Block) => string[];
  choose: (id: string) => void;
  move: (id: string, to: number) => void;
  duplicate: (id: string) => void;
  remove: (id: string) => void;
}

const HOW_TO_MOVE =
  "To move a block press space, go up or down with the arrow keys, and press space again; Escape leaves it where it was.";

/** The routine in order, each block with the minute it begins at. */
export function BlockList({ blocks, move, ...rest }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const placeOf = (id: UniqueIdentifier) => blocks.findIndex((block) => block.id === id);
  const nameOf = (id: UniqueIdentifier) => blockTitle(blocks[placeOf(id)]!);
  const announcements: Announcements = {
    onDragStart: ({ active }) =>
      `${nameOf(active.id)} is picked up, place ${placeOf(active.id) + 1} of ${blocks.length}.`,
    onDragOver: ({ active, over }) =>
      over ? `${nameOf(active.id)} is at place ${placeOf(over.id) + 1} of ${blocks.length}.` : undefined,
    onDragEnd: ({ active, over }) =>
      `${nameOf(active.id)} stays at place ${placeOf(over?.id ?? active.id) + 1} of ${blocks.length}.`,
    onDragCancel: ({ active }) => `${nameOf(active.id)} is back where it was.`,
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id)
      move(
        String(active.id),
        blocks.findIndex((block) => block.id === over.id),
      );
  };
  return (
    <DndContext
      id="routine"
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={dropped}
      accessibility={{ announcements, screenReaderInstructions: { draggable: HOW_TO_MOVE } }}
    >
      <SortableContext items={blocks.map((block) => block.id)} strategy={verticalListSortingStrategy}>
        <div className="flex flex-col gap-1" data-testid="blocks">
          {blocks.map((block, place) => (
            <BlockRow
              key={block.id}
              block={block}
              place={place}
              last={place === blocks.length - 1}
              move={move}
              {...rest}
            />
          ))}
        </div>
      </SortableContext>
    </DndContext>
  );
}

function BlockRow({
  block,
  place,
  last,
  clock,
  chosen,
  sounding,
  notReady,
  choose,
  move,
  duplicate,
  remove,
}: Omit<Props, "blocks"> & { block: Block; place: number; last: boolean }) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: block.id,
  });
  const time = clock?.blocks[place];
  const open = chosen === block.id;
  const waiting = notReady(block);
  const title = blockTitle(block);
  const tool = "btn btn-ghost btn-xs h-7 w-7 p-0";
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      className={`panel flex items-center gap-1 py-1 pl-1 pr-2 ${open ? "border-l-4 border-l-accent" : ""} ${isDragging ? "z-10 shadow" : ""} ${sounding === block.id ? "bg-reed" : ""}`}
    >
      <button
        type="button"
        className="btn btn-ghost btn-xs h-8 w-7 cursor-grab touch-none p-0"
        aria-label={`Move ${title}: drag, or press space and the arrow keys`}
        {...attributes}
        {...listeners}
      >
        <GripVertical size={16} aria-hidden="true" />
      </button>
      <span className="w-10 shrink-0 text-sm text-quiet">{time ? clockText(time.fromSec) : ""}</span>
      <button
        type="button"
        className="min-w-0 flex-1 text-left"
        aria-current={open}
        onClick={() => choose(block.id)}
      >
        <span className={`block truncate ${open ? "font-bold" : ""}`}>{title}</span>
        <span className="block truncate text-sm text-quiet">
          {time ? clockText(time.seconds) : "cannot be played"}
          {block.mutedFor.length > 0 &&
            ` · ${block.mutedFor.length === 1 ? "one group sits" : `${block.mutedFor.length} groups sit`} out`}
          {waiting.length > 0 && (
            <span className="text-felt" title="New notes or out of range for these">
              {" "}
              · {waiting.join(" ")}
            </span>
          )}
        </span>
      </button>
      <button
        type="button"
        className={tool}
        aria-label={`${title} up`}
        disabled={place === 0}
        onClick={() => move(block.id, place - 1)}
      >
        <ArrowUp size={16} aria-hidden="true" />
      </button>
      <button
        type="button"
        className={tool}
        aria-label={`${title} down`}
        disabled={last}
        onClick={() => move(block.id, place + 1)}
      >
        <ArrowDown size={16} aria-hidden="true" />
      </button>
      <button
        type="button"
        className={tool}
        aria-label={`Duplicate ${title}`}
        onClick={() => duplicate(block.id)}
      >
        <Copy size={15} aria-hidden="true" />
      </button>
      <button type="button" className={tool} aria-label={`Remove ${title}`} onClick={() => remove(block.id)}>
        <Trash2 size={15} aria-hidden="true" />
      </button>
    </div>
  );
}
