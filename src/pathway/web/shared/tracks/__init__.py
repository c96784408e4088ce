"""A plan drawn under an engraved line: where things lie, and how they are drawn."""
