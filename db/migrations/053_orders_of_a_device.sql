-- What is free counts, for whoever has proved nothing, by the device that took it.
ALTER TABLE orders ADD KEY visitor (visitor);
