"""What is taken away of a sweep: a file a form."""
