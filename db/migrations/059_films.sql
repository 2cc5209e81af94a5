-- Films in narrower widths, for phones and windows that need no more.

ALTER TABLE media
  ADD narrowed VARCHAR(40) NULL COMMENT 'a film: the narrower widths that it is there in, with commas between; null: not made yet',
  ADD narrowing_until DATETIME(3) NULL COMMENT 'real time until which a worker has it in hand';
