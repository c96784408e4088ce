"""Pure computation: score → strokes → hair path → tone → findings. SI units, no input or output."""
