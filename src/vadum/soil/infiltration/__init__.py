"""Water going into the ground: the falling head in a cylinder, the constant head in a hole, and rates for a design."""
