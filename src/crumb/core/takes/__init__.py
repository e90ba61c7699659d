"""What is asked for as takes, and which place of the music sounds when in one."""
