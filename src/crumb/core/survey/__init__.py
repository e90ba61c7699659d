"""Where a part is hard for the instrument in hand, and why."""
