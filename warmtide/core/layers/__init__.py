"""What the Hand does to a picture: layers composed, selections, fills, mends; pure, without records or web."""
