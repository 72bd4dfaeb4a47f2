"""The looks there are: a folder a family, and in it a file a look."""
