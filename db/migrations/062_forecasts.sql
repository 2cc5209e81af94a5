-- What is assumed of a funnel before it is known.

CREATE TABLE forecast (
  funnel_id INT UNSIGNED NOT NULL PRIMARY KEY,
  document LONGTEXT NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  FOREIGN KEY (funnel_id) REFERENCES funnel (id) ON DELETE CASCADE
);
