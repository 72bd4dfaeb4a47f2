"""One take from beginning to end, what it asks for and what it costs."""
