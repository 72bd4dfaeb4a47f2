"""People in a picture: faces, their points, and the whole person."""
