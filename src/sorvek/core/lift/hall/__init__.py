"""What stands in the hall: bars, collars, plates, who loads them, and the build-up on them."""
