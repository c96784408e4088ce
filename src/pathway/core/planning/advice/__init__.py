"""Asked of a finished plan: what helps, why it is so, at which tempi it fits."""
