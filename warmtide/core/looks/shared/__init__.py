"""What looks of several families share: brush, pen, tones, surfaces in light, areas, wishes for parts."""
