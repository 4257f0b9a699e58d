"""What the vehicle does on the road: motors, power, losses, pull, speeds and test drives."""
