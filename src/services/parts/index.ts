export { fingeringChart, ownFingerings, setFingerings } from "./fingerings";
export { fontOnce } from "./font";
export { describeNote, drawOnce, engraveLine, engravePart, partOf, partView, viewOfPart } from "./part";
export { withPencil } from "./pencil-svg";
export { withRestSyllables, withSungSyllables } from "./syllables-svg";
