/**
 * Marks by a band's own criteria and levels, each kept with the rubric it was given by; takes accepted together without being heard;
 * what a player is asked for anew.
 */
export const marking = [
  "ALTER TABLE marks MODIFY criterion VARCHAR(40) CHARACTER SET ascii NOT NULL, MODIFY score TINYINT UNSIGNED NOT NULL",
  `ALTER TABLE reviews ADD COLUMN IF NOT EXISTS marked_by JSON NULL COMMENT 'rubric, days late and rule as they stood; the usual when null',
    ADD COLUMN IF NOT EXISTS unheard TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'accepted with others alike, after samples of them were heard',
    ADD COLUMN IF NOT EXISTS for_family VARCHAR(1000) NOT NULL DEFAULT '' COMMENT 'words for those at home'`,
  "ALTER TABLE tasks ADD COLUMN IF NOT EXISTS asks JSON NULL COMMENT 'tempo and bars of the next take, where it is asked for otherwise'",
  // Words for the criteria become the band's first rubric.
  `UPDATE bands SET settings = JSON_REMOVE(JSON_SET(settings, '$.rubrics', JSON_ARRAY(JSON_OBJECT(
      'id', 'usual', 'name', 'The usual', 'school', 'marks', 'levels', JSON_ARRAY('not yet', 'partly', 'mostly', 'steady'), 'criteria', JSON_ARRAY(
        JSON_OBJECT('id', 'notes', 'word', JSON_VALUE(settings, '$.criteria.notes'), 'weight', 1, 'means', JSON_ARRAY(), 'hears', 'notes'),
        JSON_OBJECT('id', 'rhythm', 'word', JSON_VALUE(settings, '$.criteria.rhythm'), 'weight', 1, 'means', JSON_ARRAY(), 'hears', 'rhythm'),
        JSON_OBJECT('id', 'tone', 'word', JSON_VALUE(settings, '$.criteria.tone'), 'weight', 1, 'means', JSON_ARRAY(), 'hears', NULL),
        JSON_OBJECT('id', 'articulation', 'word', JSON_VALUE(settings, '$.criteria.articulation'), 'weight', 1, 'means', JSON_ARRAY(), 'hears', 'articulation'),
        JSON_OBJECT('id', 'dynamics', 'word', JSON_VALUE(settings, '$.criteria.dynamics'), 'weight', 1, 'means', JSON_ARRAY(), 'hears', NULL))))), '$.criteria')
   WHERE JSON_EXISTS(settings, '$.criteria')`,
];
