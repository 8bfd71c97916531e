/** A lesson takes blocks of other lessons with it, and can be opened again; dynamics changed in class are pencil that takes are heard by. */
export const lessonsGoOn = [
  `ALTER TABLE pencil_marks
    MODIFY kind ENUM('accidental','name','position','breath','reminder','dynamic') NOT NULL`,
  `ALTER TABLE rooms
    ADD COLUMN IF NOT EXISTS brought JSON NULL COMMENT 'strips of other lessons that are done in this one, in their order',
    ADD COLUMN IF NOT EXISTS closed_noted INT UNSIGNED NULL COMMENT 'how far the log had come when the plan was told'`,
];
