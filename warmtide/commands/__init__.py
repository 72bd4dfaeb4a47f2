"""What the commands do: a module a group of commands, so that one loads nothing of the others."""
