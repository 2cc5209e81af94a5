-- Questions about people: who was at a step.
ALTER TABLE fact ADD KEY by_step (step_id, kind, at);
