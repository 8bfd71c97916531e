/** What is written on a part by hand. A dynamic that the director shares is one that takes are judged by. */
export const PENCIL_KINDS = ["accidental", "name", "position", "breath", "reminder", "dynamic"] as const;
export type PencilKind = (typeof PENCIL_KINDS)[number];
