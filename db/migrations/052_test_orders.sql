-- While nothing but the stand-in charges cards, what is ordered is a test, and is taken out once a real processor is connected.
ALTER TABLE school ADD testing TINYINT(1) NOT NULL DEFAULT 0;
ALTER TABLE orders ADD test TINYINT(1) NOT NULL DEFAULT 0, ADD KEY (test, id);
