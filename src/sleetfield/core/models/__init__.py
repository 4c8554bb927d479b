"""Phase models: one file each, all behind the contract in `contract`."""
