"""Which of a face's 468 points outline what: rows of numbers, left and right as in the picture.

Sources
-------
1. Y. Kartynnik et al., "Real-time facial surface geometry from monocular video on mobile GPUs", 2019 (the numbering).
"""

# Around the face, from the middle of the forehead on, clockwise.
OVAL = (
    10, 338, 297, 332, 284, 251, 389, 356, 454, 323, 361, 288, 397, 365, 379, 378, 400, 377, 152, 148, 176, 149, 150, 136,
    172, 58, 132, 93, 234, 127, 162, 21, 54, 103, 67, 109,
)  # fmt: skip
# Each eye: upper lid and lower lid from the outer corner to the inner one.
EYES = (
    ((33, 246, 161, 160, 159, 158, 157, 173, 133), (33, 7, 163, 144, 145, 153, 154, 155, 133)),
    ((263, 466, 388, 387, 386, 385, 384, 398, 362), (263, 249, 390, 373, 374, 380, 381, 382, 362)),
)
# Each brow: upper and lower edge from its outer end.
BROWS = (((70, 63, 105, 66, 107), (46, 53, 52, 65, 55)), ((300, 293, 334, 296, 336), (276, 283, 282, 295, 285)))
# Upper and lower edge of the mouth from the left corner, outside and inside of the lips.
LIPS = ((61, 185, 40, 39, 37, 0, 267, 269, 270, 409, 291), (61, 146, 91, 181, 84, 17, 314, 405, 321, 375, 291))
MOUTH = ((78, 191, 80, 81, 82, 13, 312, 311, 310, 415, 308), (78, 95, 88, 178, 87, 14, 317, 402, 318, 324, 308))
NOSE = (168, 6, 197, 195, 5, 4, 1, 19, 94, 2)
NOSTRILS = (64, 98, 97, 2, 326, 327, 294)
NOSE_TIP, CHIN, FOREHEAD = 1, 152, 10
CHEEKS = ((117, 50, 205, 203, 129, 126, 100), (346, 280, 425, 423, 358, 355, 329))
EARS = (234, 454)
# What is shown of a face: closed lines of its oval, eyes, brows and lips, and the nose.
_CLOSED = tuple((*upper, *reversed(lower)) for upper, lower in (*EYES, *BROWS, LIPS))
OUTLINES = ((*OVAL, OVAL[0]), *((*line, line[0]) for line in _CLOSED), NOSE[:6], NOSTRILS)
JAW = (93, 132, 58, 172, 136, 150, 149, 176, 148, 152, 377, 400, 378, 379, 365, 397, 288, 361, 323)
