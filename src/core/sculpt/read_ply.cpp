// PLY (Greg Turk, Stanford 1994): text and both binary orders, polygons of any size, vertex colours of 8
// bits, 16 bits or float (sRGB-encoded: common practice), those of faces given to their vertices where these
// have none, triangle strips as the Stanford scans have them, UVs per vertex (s t, u v, texture_u texture_v)
// or per corner (the face list `texcoord`). A face property `part` named by lines `comment part N name`
// brings parts.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/sculpt/formats.h"
#include "core/sculpt/number_text.h"
#include "core/sculpt/ply_rows.h"

namespace juvenor {
namespace {

class PlyReader {
 public:
  PlyReader(std::string_view bytes, const std::string& where, const Progress& progress)
      : bytes_(bytes), where_(where), progress_(progress) {}
  Result<Sculpt> read();

 private:
  bool fail(std::string what) {
    error_ = {std::move(what), fmt::format("{}, byte {}", where_, at_)};
    return false;
  }
  bool body();
  bool elements(const PlyElement& element);
  bool vertexRow(const PlyElement& element);
  bool faceRow(const PlyElement& element);
  bool stripRow(const PlyElement& element);
  bool skipRow(const PlyElement& element);
  void addPolygon(uint32_t part);
  void colorByFaces();
  void nameParts();
  bool value(PlyType type, double& out);
  bool listLength(const PlyProperty& property, uint64_t& out);
  bool rows(const Outcome& read);
  bool enoughBytes(const PlyElement& element);
  bool noteReport(uint64_t row);

  std::string_view bytes_;
  std::string where_;
  const Progress& progress_;
  size_t at_ = 0;
  PlyHeader header_;
  Error error_;
  Sculpt sculpt_;
  std::vector<Eigen::Vector3d> positions_;
  std::vector<EncodedColor> faceColors_;  // of polygons so far, when faces have any
  uint64_t thin_ = 0;                     // faces of fewer than three corners
  bool normals_ = false, colored_ = false, vertexUv_ = false, faceUv_ = false, faceParts_ = false,
       faceColored_ = false;
  UvSet uv_{"UV", {}, {}};
};

bool isFinitePoint(const Eigen::Vector3d& v) {
  return v.allFinite() && v.cwiseAbs().maxCoeff() <= static_cast<double>(std::numeric_limits<float>::max());
}

bool PlyReader::value(PlyType type, double& out) {
  if (header_.text) {
    while (at_ < bytes_.size() && std::isspace(static_cast<unsigned char>(bytes_[at_]))) ++at_;
    const char* next = readNumber(bytes_.data() + at_, bytes_.data() + bytes_.size(), out);
    if (!next)
      return fail(at_ >= bytes_.size() ? "the file ends too early; expected a number" : "expected a number");
    if (std::isinf(out)) return fail("a number is too large");
    at_ = static_cast<size_t>(next - bytes_.data());
    return true;
  }
  const size_t size = sizeOf(type);
  if (bytes_.size() - at_ < size) return fail("the file ends too early");
  out = plyValue(type, bytes_.data() + at_, header_.swap);
  at_ += size;
  return true;
}

bool PlyReader::listLength(const PlyProperty& property, uint64_t& out) {
  double n = 0;
  if (!value(*property.count, n)) return false;
  const double room = static_cast<double>((bytes_.size() - at_) / (header_.text ? 1 : sizeOf(property.type)));
  if (!(n >= 0) || n > room + 1)
    return fail(fmt::format("a list of {} entries does not fit into the file", n));
  out = static_cast<uint64_t>(n);
  return true;
}

bool PlyReader::vertexRow(const PlyElement& element) {
  Eigen::Vector3d v = Eigen::Vector3d::Zero();
  Vec3 normal = Vec3::Zero();
  Vec2 uv = Vec2::Zero();
  EncodedColor color;
  for (const PlyProperty& p : element.properties) {
    double x = 0;
    if (p.count) {
      uint64_t n = 0;
      if (!listLength(p, n)) return false;
      for (uint64_t i = 0; i < n; ++i)
        if (!value(p.type, x)) return false;
      continue;
    }
    if (!value(p.type, x)) return false;
    const float f = static_cast<float>(x);
    switch (p.role) {
      case PlyRole::X:
        v.x() = x;
        break;
      case PlyRole::Y:
        v.y() = x;
        break;
      case PlyRole::Z:
        v.z() = x;
        break;
      case PlyRole::NormalX:
        normal.x() = f;
        break;
      case PlyRole::NormalY:
        normal.y() = f;
        break;
      case PlyRole::NormalZ:
        normal.z() = f;
        break;
      case PlyRole::Red:
        color.r = f * plyColorUnit(p.type);
        break;
      case PlyRole::Green:
        color.g = f * plyColorUnit(p.type);
        break;
      case PlyRole::Blue:
        color.b = f * plyColorUnit(p.type);
        break;
      case PlyRole::U:
        uv.x() = f;
        break;
      case PlyRole::V:
        uv.y() = f;
        break;
      default:
        break;
    }
  }
  if (!isFinitePoint(v)) return fail(fmt::format("vertex {} is not a finite point", positions_.size() + 1));
  positions_.push_back(v);
  if (normals_) sculpt_.normals.push_back(normal);
  if (colored_) sculpt_.colors.push_back(opaque16(color));
  if (vertexUv_) uv_.coordinates.push_back(uv);
  return true;
}

bool PlyReader::faceRow(const PlyElement& element) {
  const size_t first = sculpt_.corners.size();
  uint32_t part = 0;
  EncodedColor color;
  for (const PlyProperty& p : element.properties) {
    double x = 0;
    uint64_t n = 1;
    if (p.count && !listLength(p, n)) return false;
    Vec2 uv = Vec2::Zero();
    for (uint64_t i = 0; i < n; ++i) {
      if (!value(p.type, x)) return false;
      if (p.role == PlyRole::Indices) {
        if (!(x >= 0) || x >= kNone)
          return fail(
              fmt::format("face {} names vertex {}; expected 0 or more", sculpt_.polygonPart.size() + 1, x));
        sculpt_.corners.push_back(static_cast<uint32_t>(x));
      } else if (p.role == PlyRole::Part) {
        part = x >= 0 && x < kNone ? static_cast<uint32_t>(x) : 0;
      } else if (p.role == PlyRole::Red) {
        color.r = static_cast<float>(x) * plyColorUnit(p.type);
      } else if (p.role == PlyRole::Green) {
        color.g = static_cast<float>(x) * plyColorUnit(p.type);
      } else if (p.role == PlyRole::Blue) {
        color.b = static_cast<float>(x) * plyColorUnit(p.type);
      } else if (p.role == PlyRole::Texcoords) {
        uv[i % 2] = static_cast<float>(x);
        if (i % 2 == 1) uv_.coordinates.push_back(uv);
      }
    }
  }
  const size_t size = sculpt_.corners.size() - first;
  if (size < 3) {
    // Scans do carry lines and points in their face lists; they have no area to colour.
    sculpt_.corners.resize(first);
    ++thin_;
    if (faceUv_) uv_.coordinates.resize(std::min(uv_.coordinates.size(), first));
    return true;
  }
  if (faceUv_) {
    uv_.coordinates.resize(sculpt_.corners.size(), Vec2::Zero());
  }
  addPolygon(part);
  if (faceColored_) {
    faceColors_.resize(sculpt_.polygonPart.size() - 1);
    faceColors_.push_back(color);
  }
  return true;
}

void PlyReader::addPolygon(uint32_t part) {
  if (sculpt_.polygonStart.empty()) sculpt_.polygonStart.push_back(0);
  sculpt_.polygonStart.push_back(static_cast<uint32_t>(sculpt_.corners.size()));
  sculpt_.polygonPart.push_back(part);
}

// Each number makes a triangle with the two before it, every other one turned round; below 0 a strip begins
// anew.
bool PlyReader::stripRow(const PlyElement& element) {
  for (const PlyProperty& p : element.properties) {
    double x = 0;
    uint64_t n = 1;
    if (p.count && !listLength(p, n)) return false;
    uint64_t length = 0;
    uint32_t before = 0, last = 0;
    for (uint64_t i = 0; i < n; ++i) {
      if (!value(p.type, x)) return false;
      if (p.role != PlyRole::Indices) continue;
      if (!(x >= 0)) {
        length = 0;
        continue;
      }
      if (x >= kNone) return fail(fmt::format("a strip names vertex {}", x));
      const auto now = static_cast<uint32_t>(x);
      // turns of a strip are triangles without area
      if (length >= 2 && now != last && now != before && last != before) {
        const bool odd = length % 2 == 1;
        sculpt_.corners.insert(sculpt_.corners.end(), {odd ? last : before, odd ? before : last, now});
        addPolygon(0);
      }
      before = last;
      last = now;
      ++length;
      if (i % 65536 == 0 && !noteReport(0)) return false;
    }
  }
  return true;
}

// The mean of the faces around each vertex.
void PlyReader::colorByFaces() {
  std::vector<Vec3> sum(sculpt_.vertices.size(), Vec3::Zero());
  std::vector<uint32_t> count(sum.size(), 0);
  faceColors_.resize(sculpt_.polygonCount());
  for (size_t p = 0; p < sculpt_.polygonCount(); ++p)
    for (const uint32_t v : sculpt_.polygon(p)) {
      if (v >= sum.size()) continue;  // told of in a moment
      sum[v] += Vec3(faceColors_[p].r, faceColors_[p].g, faceColors_[p].b);
      ++count[v];
    }
  sculpt_.colors.resize(sum.size());
  for (size_t v = 0; v < sum.size(); ++v) {
    const Vec3 mean = count[v] ? Vec3(sum[v] / static_cast<float>(count[v])) : Vec3(Vec3::Ones());
    sculpt_.colors[v] = opaque16({mean.x(), mean.y(), mean.z()});
  }
}

// Numbers of parts may be any; more names than polygons would be a claim nobody needs to believe.
void PlyReader::nameParts() {
  std::map<uint32_t, uint32_t> places;
  uint32_t last = 0;
  for (const uint32_t p : sculpt_.polygonPart) last = std::max(last, p);
  const bool sparse = last >= std::max<size_t>(65536, sculpt_.polygonPart.size() + header_.partNames.size());
  if (sparse) {
    for (const uint32_t p : sculpt_.polygonPart) places.emplace(p, 0);
    uint32_t next = 0;
    for (auto& [number, place] : places) place = next++;
    for (uint32_t& p : sculpt_.polygonPart) p = places[p];
    last = next - 1;
  }
  for (uint32_t i = 0; i <= last; ++i) sculpt_.parts.push_back(fmt::format("Part {}", i + 1));
  for (const auto& [number, name] : header_.partNames) {
    if (sparse && !places.contains(number)) continue;
    const uint32_t i = sparse ? places[number] : number;
    if (i <= last) sculpt_.parts[i] = name;
  }
}

bool PlyReader::skipRow(const PlyElement& element) {
  for (const PlyProperty& p : element.properties) {
    uint64_t n = 1;
    if (p.count && !listLength(p, n)) return false;
    double ignored = 0;
    for (uint64_t i = 0; i < n; ++i)
      if (!value(p.type, ignored)) return false;
  }
  return true;
}

// Counts in a header are claims; the bytes that follow are what there is.
bool PlyReader::enoughBytes(const PlyElement& element) {
  uint64_t least = 0;
  for (const PlyProperty& p : element.properties)
    least += header_.text ? 2 : sizeOf(p.count ? *p.count : p.type);
  const uint64_t room = bytes_.size() - at_ + 1;
  if (least > 0 && element.count > room / least + 1)
    return fail(fmt::format("the header promises {} of '{}', but only {} bytes follow", element.count,
                            element.name, bytes_.size() - at_));
  if (least == 0 && element.count > 0)
    return fail(fmt::format("element '{}' has no properties", element.name));
  if (element.count >= kNone)
    return fail(fmt::format("{} of '{}' are more than can be held", element.count, element.name));
  return true;
}

// Takes what came of rows that were read side by side.
bool PlyReader::rows(const Outcome& read) {
  if (read) return true;
  if (!isCancelled(read.error())) return fail(read.error().what);
  error_ = read.error();
  return false;
}

bool PlyReader::noteReport(uint64_t row) {
  if (row % 65536 != 0) return true;
  if (report(progress_, 0.1f + 0.8f * static_cast<float>(at_) / static_cast<float>(bytes_.size())))
    return true;
  error_ = cancelledError();
  return false;
}

bool PlyReader::elements(const PlyElement& element) {
  if (!enoughBytes(element)) return false;
  const bool vertex = element.name == "vertex", face = element.name == "face",
             strips = element.name == "tristrips";
  if (!vertex && !face && !strips && element.count > 0)
    sculpt_.remarks.push_back(fmt::format("{} of '{}' were left out", element.count, element.name));
  int axes = 0;
  bool indices = false;
  for (const PlyProperty& p : element.properties) {
    axes += p.role == PlyRole::X || p.role == PlyRole::Y || p.role == PlyRole::Z;
    normals_ |= p.role == PlyRole::NormalX;
    colored_ |= vertex && p.role == PlyRole::Red;
    faceColored_ |= face && p.role == PlyRole::Red;
    vertexUv_ |= p.role == PlyRole::U;
    faceUv_ |= p.role == PlyRole::Texcoords && !vertexUv_;
    faceParts_ |= p.role == PlyRole::Part;
    indices |= p.role == PlyRole::Indices;
  }
  if (vertex && axes != 3) return fail("vertices need the properties x, y and z");
  if (face && element.count > 0 && !indices) return fail("faces need the list vertex_indices");
  if (vertex && isFixedPly(header_, element))
    return rows(readFixedPlyVertices(bytes_, at_, element, normals_, colored_, sculpt_,
                                     vertexUv_ ? &uv_.coordinates : nullptr));
  if (face && isPlainPly(header_, element))
    return rows(readPlainPlyFaces(bytes_, at_, element, sculpt_, progress_));
  if (vertex) positions_.reserve(element.count);
  if (face) sculpt_.polygonStart.reserve(element.count + 1);
  for (uint64_t i = 0; i < element.count; ++i) {
    const bool ok = vertex   ? vertexRow(element)
                    : face   ? faceRow(element)
                    : strips ? stripRow(element)
                             : skipRow(element);
    if (!ok || !noteReport(i)) return false;
  }
  return true;
}

bool PlyReader::body() {
  for (const PlyElement& e : header_.elements)
    if (!elements(e)) return false;
  return true;
}

Result<Sculpt> PlyReader::read() {
  auto header = readPlyHeader(bytes_, at_);
  if (!header) return Error{header.error().what, fmt::format("{}, byte {}", where_, at_)};
  header_ = std::move(*header);
  if (!body()) return error_;
  if (positions_.empty())
    placeVertices(sculpt_);
  else
    placeVertices(sculpt_, positions_);
  if (vertexUv_) {
    uv_.corner = sculpt_.corners;
    uv_.coordinates.resize(sculpt_.vertices.size());
    sculpt_.uvSets.push_back(std::move(uv_));
  } else if (faceUv_) {
    uv_.coordinates.resize(sculpt_.corners.size(), Vec2::Zero());
    uv_.corner.resize(sculpt_.corners.size());
    for (uint32_t i = 0; i < uv_.corner.size(); ++i) uv_.corner[i] = i;
    sculpt_.uvSets.push_back(std::move(uv_));
  }
  if (faceColored_ && !colored_) colorByFaces();
  if (faceParts_ && !sculpt_.polygonPart.empty()) nameParts();
  if (thin_ > 0)
    sculpt_.remarks.push_back(fmt::format("{} faces with fewer than three corners were left out", thin_));
  if (faceColored_ && colored_)
    sculpt_.remarks.push_back("colours of faces were left out: the vertices have their own");
  const Outcome checked = finishSculpt(sculpt_, where_);
  if (!checked) return checked.error();
  return std::move(sculpt_);
}

}  // namespace

Result<Sculpt> readPly(std::string_view bytes, const std::string& where, const Progress& progress) {
  return PlyReader(bytes, where, progress).read();
}

}  // namespace juvenor
