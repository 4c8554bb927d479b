"""Solutions of salts: models of ions, one file each, and which species, solids and gases there are."""
