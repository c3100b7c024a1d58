"""What people type about wishes, white balance and stills, read and refused."""
