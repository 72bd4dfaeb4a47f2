"""Line drawings: strokes, the areas that they close, their form."""
