"""What is made of takes when they are done."""
