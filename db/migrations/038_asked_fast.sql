-- Questions about people are answered from indexes alone where they can be.
ALTER TABLE person DROP KEY by_joined, ADD KEY by_joined (joined_at, id, searched, united_with);
ALTER TABLE fact DROP KEY kind, ADD KEY kind (kind, at, person_id), DROP KEY person_id, ADD KEY person_id (person_id, kind, at);
