-- A credit note carries the day on which its payout was marked as paid, in the zone of that moment.
ALTER TABLE payout ADD paid_day DATE NULL;
UPDATE payout SET paid_day = DATE(paid_at) WHERE paid_at IS NOT NULL;
