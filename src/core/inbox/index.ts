export { type Heard, type Likely, likeliest } from "./content";
export { type FileLine, type FilePlayer, type NamedBy, readFileName } from "./file-name";
