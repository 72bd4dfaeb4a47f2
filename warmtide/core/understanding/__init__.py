"""What a picture is about: its kind, faces, places, flat ground and palette, and what is drawn or built in it."""
