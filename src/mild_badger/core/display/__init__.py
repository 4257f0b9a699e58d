"""The display engine: pistons over a turn, firing intervals, a glued crank looked over."""
