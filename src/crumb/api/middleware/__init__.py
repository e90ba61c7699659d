"""What every request passes on its way in and out, from the outside inward."""
