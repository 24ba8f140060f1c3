"""Points that move by forces: where they are born, who is near whom, and how they go on."""
