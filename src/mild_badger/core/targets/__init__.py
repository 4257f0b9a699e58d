"""From a real vehicle to what the model should do: schools of ratio, road and scale speeds."""
