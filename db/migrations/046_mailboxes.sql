-- One per person counts a mailbox: what stands behind a plus sign is its owner's to choose. Its twin is mailboxOf.
ALTER TABLE orders
  ADD mailbox VARCHAR(320) COLLATE utf8mb4_bin AS (CONCAT(SUBSTRING_INDEX(SUBSTRING_INDEX(canonical, '@', 1), '+', 1), '@', SUBSTRING_INDEX(canonical, '@', -1))) VIRTUAL,
  ADD KEY mailbox (mailbox);
