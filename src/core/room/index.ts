export { type AloneStep, aloneSteps } from "./alone";
export { joined, type ReadBars, readBars, type Stretch } from "./bars";
export {
  type BoardRow,
  boardRows,
  type Doing,
  doingIn,
  firstNoteIn,
  holdsInto,
  nameOnBoard,
  type RowNote,
  rowNotes,
} from "./board";
export {
  absentOf,
  type ForTomorrow,
  forTomorrow,
  notedAbsent,
  ROOM_TAGS,
  type RoomEntry,
  type RoomNote,
  reached,
  standing,
} from "./log";
export {
  FIRST_NOTES,
  type FirstNote,
  type PlanBar,
  ROOM_WAYS,
  type RoomMoment,
  type RoomPlan,
  type RoomWay,
  roomMomentAt,
  roomPlan,
} from "./plan";
export {
  begunNow,
  bpmOf,
  firstState,
  isUntouched,
  type LessonClock,
  lessonClock,
  onSheet,
  type Ramp,
  type Told,
  tapTempo,
  tell,
  toFollow,
  WALL_VIEWS,
  type WallBlock,
  type WallCommand,
  type WallState,
  type WallView,
} from "./wall";
