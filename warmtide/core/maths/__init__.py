"""Arrays, colour, noise, pyramids, distances and the compiler of kernels: nothing here knows what a picture is for."""
