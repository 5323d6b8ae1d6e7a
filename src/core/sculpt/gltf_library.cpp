// The body of tinygltf, compiled here once.
#define TINYGLTF_IMPLEMENTATION
#include "core/sculpt/gltf_library.h"
