"""Places, light and weather drawn from words: the content a picture goes to when nothing of it is held."""
