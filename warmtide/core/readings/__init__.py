"""What a take kept of its source."""
