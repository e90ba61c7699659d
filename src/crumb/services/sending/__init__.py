"""What is sent to whom."""
