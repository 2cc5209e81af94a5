-- A seat lets one device into its room at a time.
ALTER TABLE registration
  ADD device BINARY(8) NULL COMMENT 'the one device that is in the room for it',
  ADD device_at DATETIME(3) NULL COMMENT 'when it came in, business time';
