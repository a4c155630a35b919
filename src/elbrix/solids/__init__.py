"""The one package that talks to the geometry kernel: recipes in, views, meshes, masses and files out.

`recipe` and `client` are plain data and load no kernel; `kernel` and `worker` run in the kernel's own process.
"""
