"""A person as the character of an animated film: still that person, with pose, clothes and place."""
