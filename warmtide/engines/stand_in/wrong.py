"""Ways in which the simulated engine can be wrong, for tests of what notices them."""

WRONG = {
    "about": "says of itself what nobody can read",
    "protocol": "speaks another version of the protocol",
    "size": "answers with half the pixels",
    "type": "answers with a JPEG that is called a PNG",
    "cut": "cuts its pictures short",
    "large": "answers with more bytes than a picture can have",
    "silent": "says nothing of a render, ever",
    "flood": "tells of steps without end",
    "garbled": "sends events that can't be read",
    "undone": "ends its events before the render is done",
    "forgets": "knows nothing of what it was asked",
    "redirect": "points elsewhere",
    "open": "takes any token",
    "twice": "renders again what it has",
    "changing": "makes another picture of an equal request, and claims not to",
    "source": "does not give the source back at strength 0",
    "trace": "answers bad requests with a trace",
    "lenient": "takes any recipe",
}
