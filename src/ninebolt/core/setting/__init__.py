"""Settings of a controller: its objects, what they mean, sets of values, and how two sets differ."""
