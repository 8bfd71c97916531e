export { everyNoteFor, everyNoteOfGroup } from "./every-note";
export { exemptNotes, keepEvidence, shownAnew } from "./evidence";
export { type BandKnowledge, bandKnowledge, knownAt, playerKnowledge, weeksSince } from "./known";
export { Exempt, OfPlayer, TeachConcert, TeachLine, TeachThings, ThingInput } from "./schema";
export {
  keepTeaching,
  lessonsOf,
  lineName,
  setExempt,
  setTakenAway,
  setTaught,
  type TaughtAnswer,
  teachConcert,
  teachingsOfLine,
  teachLine,
  teachThings,
  todayOf,
} from "./teach";
export { instrumentKnowledge } from "./view";
