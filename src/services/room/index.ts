export { bringIn, otherLessons } from "./bring";
export { closeRoom, openAgain, roomLog, sendRoomHome } from "./close";
export { roomStream, tellRoom } from "./feed";
export { notedInClass, noteRoom } from "./log";
export {
  enterPass,
  joinRoom,
  keepState,
  type Leave,
  leader,
  lessonAtHome,
  makePass,
  openRoom,
  roomActorOf,
  roomAtHome,
  roomFor,
  roomStart,
  roomView,
  setAtHome,
  setDoor,
  setGoal,
  shutPass,
} from "./rooms";
export {
  BringIn,
  CloseRoom,
  JoinRoom,
  KeepRoomState,
  MakePass,
  NoteRoom,
  OpenRoom,
  OpenToPhones,
  SendRoomHome,
  SetAtHome,
  SetGoal,
  TellRoom,
} from "./schema";
export { notesFor } from "./sheet";
