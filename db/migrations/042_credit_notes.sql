-- A credit note goes on saying what it said when it was made: by whom, and at which tax.
ALTER TABLE payout
  ADD tax_rate SMALLINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'basis points, of what is paid to whoever has a tax number; 0: none',
  ADD from_name VARCHAR(120) NOT NULL DEFAULT '' COMMENT 'of the school, as it stood when it was marked as paid',
  ADD from_postal VARCHAR(400) NOT NULL DEFAULT '';

UPDATE payout p JOIN school s ON s.id = 1
  SET p.tax_rate = IF((SELECT MAX(t.tax) FROM payout_to t WHERE t.payout_id = p.id) > 0, s.tax_rate, 0),
    p.from_name = IF(p.state = 'paid', s.name, ''), p.from_postal = IF(p.state = 'paid', s.postal_address, '');
