// A triangle as the text of a .gltf, with whatever a test puts beside it.
#pragma once

#include <QByteArray>
#include <string>
#include <vector>

#include "core/sculpt/formats.h"

namespace juvenor::test {

// Numbers as a data address that tinygltf reads.
template <class T>
std::string dataOf(const std::vector<T>& values) {
  const QByteArray bytes(reinterpret_cast<const char*>(values.data()),
                         static_cast<qsizetype>(values.size() * sizeof(T)));
  return R"("uri":"data:application/octet-stream;base64,)" + bytes.toBase64().toStdString() +
         R"(","byteLength":)" + std::to_string(bytes.size());
}

/// A triangle in a .gltf, and what a test wants beside it.
struct Triangle3 {
  std::string positions = dataOf(std::vector<float>{0, 0, 0, 1, 0, 0, 0, 1, 0});
  int type = 5126;
  int stride = 0;
  std::string about;       // in the accessor of the positions
  std::string more;        // in the primitive
  std::string attributes;  // beside the positions
  std::string nodes = R"([{"mesh":0}])";
  std::string scenes = R"("scene":0,"scenes":[{"nodes":[0]}],)";
  std::string rest;  // of the file
  std::string buffers, views, accessors;
};

inline Result<Sculpt> read(const Triangle3& t) {
  const std::string stride = t.stride ? R"(,"byteStride":)" + std::to_string(t.stride) : "";
  const size_t bytes = std::stoul(t.positions.substr(t.positions.rfind(':') + 1));
  const std::string text = R"({"asset":{"version":"2.0"},)" + t.scenes + R"("nodes":)" + t.nodes +
                           R"(,"meshes":[{"primitives":[{"attributes":{"POSITION":0)" + t.attributes + "}" +
                           t.more + "}]}]," + t.rest + R"("buffers":[{)" + t.positions + "}" + t.buffers +
                           R"(],"bufferViews":[{"buffer":0,"byteLength":)" + std::to_string(bytes) + stride +
                           "}" + t.views +
                           R"(],"accessors":[{"bufferView":0,"type":"VEC3","count":3,"componentType":)" +
                           std::to_string(t.type) + t.about + "}" + t.accessors + "]}";
  return readGltf(text, "made.gltf", {});
}

}  // namespace juvenor::test
