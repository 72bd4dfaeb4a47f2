"""Materials: a thing made of the flat art's own shapes."""
