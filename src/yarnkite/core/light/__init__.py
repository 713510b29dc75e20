"""Light: tone and colour that hold for a whole shot or change over it, and light made even by measurement."""
