-- Forecasts as they were made, to lay beside what happened.

CREATE TABLE forecast_made (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  made_at DATETIME(3) NOT NULL,
  first_day DATE NOT NULL COMMENT 'the first of the days that it is of, in the school''s zone',
  days SMALLINT UNSIGNED NOT NULL,
  document LONGTEXT NOT NULL COMMENT 'what it said',
  UNIQUE KEY (funnel_id, first_day),
  FOREIGN KEY (funnel_id) REFERENCES funnel (id) ON DELETE CASCADE
);
