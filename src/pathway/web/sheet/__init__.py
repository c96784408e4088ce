"""From a plan and an engraved line to a picture; no input or output."""
