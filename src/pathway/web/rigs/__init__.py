"""The rig room: what the player holds, in pictures and numbers."""
