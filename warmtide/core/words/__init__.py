"""What a prompt asks for, in a vocabulary of our own."""
