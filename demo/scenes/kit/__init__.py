"""What the scenes share: meshes, noise, textures, the puppet and her stage, the tracer, lens and sensor."""
