-- The school itself, who works in its studio, and what keeps the house in order.

CREATE TABLE school (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY DEFAULT 1 CHECK (id = 1),
  name VARCHAR(120) NOT NULL,
  sender_name VARCHAR(120) NOT NULL DEFAULT '',
  sender_email VARCHAR(320) NOT NULL DEFAULT '',
  postal_address VARCHAR(400) NOT NULL DEFAULT '',
  zone VARCHAR(64) NOT NULL DEFAULT 'Europe/Berlin',
  look VARCHAR(16) NOT NULL DEFAULT 'harvest'
) COMMENT 'one installation is one school';

CREATE TABLE account (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  email VARCHAR(320) COLLATE utf8mb4_bin NOT NULL,
  name VARCHAR(120) NOT NULL,
  password_hash VARCHAR(255) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY (email)
) COMMENT 'who may work in the studio';

CREATE TABLE clock (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY DEFAULT 1 CHECK (id = 1),
  offset_ms BIGINT NOT NULL DEFAULT 0
) COMMENT 'how far business time is ahead of real time; stays 0 outside demo and tests';
INSERT INTO clock (id, offset_ms) VALUES (1, 0);

CREATE TABLE heartbeat (
  name VARCHAR(60) NOT NULL PRIMARY KEY,
  beat_at DATETIME(3) NOT NULL COMMENT 'real time',
  note VARCHAR(400) NOT NULL DEFAULT ''
) COMMENT 'which processes are alive, for /healthz';

CREATE TABLE attempt (
  bucket VARBINARY(120) NOT NULL,
  window_start DATETIME(3) NOT NULL COMMENT 'real time',
  n INT UNSIGNED NOT NULL,
  PRIMARY KEY (bucket, window_start),
  KEY (window_start)
) COMMENT 'rate limits: how often something was tried';

CREATE TABLE media (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind ENUM('picture', 'video', 'file') NOT NULL,
  type VARCHAR(100) NOT NULL COMMENT 'told from the content, not from the name',
  name VARCHAR(200) NOT NULL COMMENT 'what the marketer called it',
  stored VARCHAR(80) NOT NULL COMMENT 'file name under the media folder, a name of ours',
  size INT UNSIGNED NOT NULL,
  width INT UNSIGNED NULL,
  height INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY (stored)
);
