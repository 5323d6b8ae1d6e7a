// Wavefront OBJ, as its published description (appendix B1) has it: v, vt, vn, f with 1-based or negative
// indices, o and g as parts, and the widely used `v x y z r g b` colours (0…1, sRGB-encoded: common
// practice). Vertex order, polygons and UVs stay exactly as in the file. Objects are the parts; groups when
// there are none. The text is cut at line ends into pieces that are first counted and then read side by side:
// what was counted says where each piece's vertices go.
#include <fmt/format.h>

#include <atomic>
#include <charconv>
#include <cmath>
#include <cstring>
#include <unordered_map>

#include "core/parallel.h"
#include "core/sculpt/formats.h"
#include "core/sculpt/number_text.h"

namespace juvenor {
namespace {

constexpr size_t kPieceBytes = size_t{1} << 20;

// How many there are of each thing that others name by number.
struct Counts {
  size_t lines = 0, vertices = 0, uvs = 0, normals = 0;

  Counts operator+(const Counts& o) const {
    return {lines + o.lines, vertices + o.vertices, uvs + o.uvs, normals + o.normals};
  }
};

bool isBlank(char c) {
  return c == ' ' || c == '\t' || c == '\r';
}

// A part begins at a polygon: `o` or `g` with a name.
struct Naming {
  size_t polygon;
  bool object;
  std::string name;
};

// A material begins at a polygon.
struct Wearing {
  size_t polygon;
  std::string material;
};

// What one piece of the text holds.
struct Piece {
  const char* begin = nullptr;
  const char* end = nullptr;
  Counts before, own;
  std::vector<Eigen::Vector3d> positions;
  std::vector<std::pair<uint32_t, Rgba16>> colors;  // by the vertex's number in the piece
  std::vector<Vec2> uvs;
  std::vector<Vec3> normals;
  std::vector<uint32_t> corners, polygonSizes;
  std::vector<uint32_t> uvOf, normalOf;  // of the corners up to the last that has any
  std::vector<Naming> namings;
  std::vector<Wearing> wearings;
  std::vector<std::string> libraries;
  size_t skipped = 0, oddColors = 0;
  std::optional<Error> error;
};

Counts counted(const char* at, const char* end) {
  Counts out;
  while (at < end) {
    while (at < end && isBlank(*at)) ++at;
    if (at + 1 < end && *at == 'v') {
      out.vertices += isBlank(at[1]);
      out.uvs += at[1] == 't' && at + 2 < end && isBlank(at[2]);
      out.normals += at[1] == 'n' && at + 2 < end && isBlank(at[2]);
    }
    const auto* next = static_cast<const char*>(std::memchr(at, '\n', static_cast<size_t>(end - at)));
    at = next ? next + 1 : end;
    ++out.lines;
  }
  return out;
}

class PieceReader {
 public:
  PieceReader(Piece& piece, const std::string& where)
      : out_(piece), at_(piece.begin), end_(piece.end), line_(piece.before.lines + 1), where_(where) {}

  void read() {
    out_.positions.reserve(out_.own.vertices);
    out_.uvs.reserve(out_.own.uvs);
    out_.normals.reserve(out_.own.normals);
    // nearly all other lines are faces of four corners at most, and a face takes seven letters at least
    const size_t others = std::min(out_.own.lines - out_.own.vertices - out_.own.uvs - out_.own.normals,
                                   static_cast<size_t>(out_.end - out_.begin) / 7);
    out_.polygonSizes.reserve(others);
    out_.corners.reserve(4 * others);
    while (at_ < end_ && !out_.error) {
      statement();
      skipLine();
    }
  }

 private:
  bool fail(std::string what) {
    if (!out_.error) out_.error = Error{std::move(what), fmt::format("{}, line {}", where_, line_)};
    return false;
  }
  void skipBlanks() {
    for (; at_ < end_; ++at_) {
      if (isBlank(*at_)) continue;
      // a backslash at the end of a line goes on with the next one
      if (*at_ == '\\' && at_ + 1 < end_ && (at_[1] == '\n' || at_[1] == '\r')) {
        while (at_ < end_ && *at_ != '\n') ++at_;
        ++line_;
        continue;
      }
      break;
    }
  }
  bool atLineEnd() const { return at_ >= end_ || *at_ == '\n' || *at_ == '#'; }
  bool atWordEnd() const { return atLineEnd() || isBlank(*at_); }
  void skipLine() {
    if (at_ < end_ && *at_ == '\n') {
      ++at_;
      ++line_;
      return;
    }
    const auto* next = static_cast<const char*>(std::memchr(at_, '\n', static_cast<size_t>(end_ - at_)));
    at_ = next ? next + 1 : end_;
    ++line_;
  }
  template <class T>
  bool number(T& out) {
    skipBlanks();
    const char* next = readNumber(at_, end_, out);
    if (!next) return false;
    at_ = next;
    return true;
  }

  bool statement();
  bool vertex();
  bool textureVertex();
  bool normal();
  bool face();
  bool corner();
  bool index(size_t known, const char* kind, uint32_t& out);
  std::string restOfLine();
  void named(bool object);
  /// For the corner that comes next; the ones before it that have none get none.
  void noteAt(std::vector<uint32_t>& of, uint32_t value) {
    of.resize(out_.corners.size(), kNone);
    of.push_back(value);
  }

  Piece& out_;
  const char* at_;
  const char* end_;
  size_t line_;
  const std::string& where_;
};

bool PieceReader::index(size_t known, const char* kind, uint32_t& out) {
  // eight digits or fewer, as nearly all have, need no care for what is too large
  const auto digit = [&] { return static_cast<uint32_t>(static_cast<unsigned char>(*at_)) - '0'; };
  const char *first = at_, *last = at_ + std::min<ptrdiff_t>(8, end_ - at_);
  long long value = 0;
  for (; at_ < last && digit() < 10; ++at_) value = 10 * value + digit();
  if (at_ == first || (at_ < end_ && digit() < 10)) {
    const auto [next, ec] = std::from_chars(first, end_, value);
    if (ec != std::errc()) return fail(fmt::format("expected a {} number in a face", kind));
    at_ = next;
  }
  const long long resolved = value > 0 ? value - 1 : static_cast<long long>(known) + value;
  // Faces may name vertices that follow later in the file, so only nonsense is refused here.
  if (value == 0 || resolved < 0 || resolved >= kNone)
    return fail(fmt::format("{} number {} is out of range; {} are known so far", kind, value, known));
  out = static_cast<uint32_t>(resolved);
  return true;
}

bool PieceReader::vertex() {
  Eigen::Vector3d v;
  for (int i = 0; i < 3; ++i)
    if (!number(v[i])) return fail("expected three coordinates after 'v'");
  if (!v.allFinite() || v.cwiseAbs().maxCoeff() > static_cast<double>(std::numeric_limits<float>::max()))
    return fail("a coordinate is not a finite number");
  float extra[4];
  int extras = 0;
  skipBlanks();
  // what is no colour takes nothing from the point
  bool numbers = true;
  while (numbers && extras < 4 && !atLineEnd()) {
    numbers = number(extra[extras]) && std::isfinite(extra[extras]);
    ++extras;
    skipBlanks();
  }
  out_.oddColors += !numbers;
  if (numbers && extras >= 3) {
    if (out_.colors.empty()) out_.colors.reserve(out_.own.vertices);
    out_.colors.emplace_back(static_cast<uint32_t>(out_.positions.size()),
                             opaque16({extra[0], extra[1], extra[2]}));
  }
  out_.positions.push_back(v);
  return true;
}

bool PieceReader::textureVertex() {
  Vec2 t(0, 0);
  if (!number(t[0])) return fail("expected a coordinate after 'vt'");
  (void)number(t[1]);
  out_.uvs.push_back(t);
  return true;
}

bool PieceReader::normal() {
  Vec3 n;
  for (int i = 0; i < 3; ++i)
    if (!number(n[i])) return fail("expected three numbers after 'vn'");
  out_.normals.push_back(n);
  return true;
}

// v, v/t, v//n or v/t/n
bool PieceReader::corner() {
  uint32_t v = 0, t = kNone, n = kNone;
  if (!index(out_.before.vertices + out_.positions.size(), "vertex", v)) return false;
  if (at_ < end_ && *at_ == '/') {
    ++at_;
    if (!atWordEnd() && *at_ != '/') {
      if (!index(out_.before.uvs + out_.uvs.size(), "UV", t)) return false;
      noteAt(out_.uvOf, t);
    }
    if (at_ < end_ && *at_ == '/') {
      ++at_;
      if (!atWordEnd()) {
        if (!index(out_.before.normals + out_.normals.size(), "normal", n)) return false;
        noteAt(out_.normalOf, n);
      }
    }
  }
  out_.corners.push_back(v);
  return true;
}

bool PieceReader::face() {
  const size_t first = out_.corners.size();
  for (skipBlanks(); !atLineEnd(); skipBlanks())
    if (!corner()) return false;
  if (out_.corners.size() - first < 3) return fail("a face needs at least three corners");
  out_.polygonSizes.push_back(static_cast<uint32_t>(out_.corners.size() - first));
  return true;
}

std::string PieceReader::restOfLine() {
  skipBlanks();
  const char* from = at_;
  while (at_ < end_ && *at_ != '\n' && *at_ != '\r') ++at_;
  std::string out(from, static_cast<size_t>(at_ - from));
  while (!out.empty() && (out.back() == ' ' || out.back() == '\t')) out.pop_back();
  return out;
}

void PieceReader::named(bool object) {
  std::string name = restOfLine();
  if (name.empty()) name = "default";
  out_.namings.push_back({out_.polygonSizes.size(), object, std::move(name)});
}

bool PieceReader::statement() {
  skipBlanks();
  if (atLineEnd()) return true;
  const char* from = at_;
  while (!atWordEnd()) ++at_;
  const std::string_view key(from, static_cast<size_t>(at_ - from));
  if (key.size() == 1) {
    if (key[0] == 'v') return vertex();
    if (key[0] == 'f') return face();
  }
  if (key == "vt") return textureVertex();
  if (key == "vn") return normal();
  if (key == "fo") return face();
  if (key == "o" || key == "g") named(key == "o");
  if (key == "usemtl") out_.wearings.push_back({out_.polygonSizes.size(), restOfLine()});
  if (key == "mtllib") out_.libraries.push_back(restOfLine());
  if (key == "l" || key == "p" || key == "curv" || key == "surf") ++out_.skipped;
  return true;
}

// Pieces that end at line ends; a line that goes on after a backslash is not cut.
std::vector<Piece> piecesOf(std::string_view text, size_t bytes) {
  std::vector<Piece> out;
  const char *at = text.data(), *end = text.data() + text.size();
  while (at < end) {
    const char* cut = at + std::min<size_t>(bytes, static_cast<size_t>(end - at));
    for (;;) {
      const auto* line =
          cut < end ? static_cast<const char*>(std::memchr(cut, '\n', static_cast<size_t>(end - cut)))
                    : nullptr;
      if (!line) {
        cut = end;
        break;
      }
      cut = line + 1;
      const char* last = line > at && line[-1] == '\r' ? line - 1 : line;
      if (last == at || last[-1] != '\\') break;
    }
    Piece piece;
    piece.begin = at;
    piece.end = cut;
    out.push_back(std::move(piece));
    at = cut;
  }
  return out;
}

// Objects are the parts, or groups where there are none; names in the order they first come, and which one
// each polygon has.
void chooseParts(const std::vector<Piece>& pieces, Sculpt& out) {
  const auto any = [&](bool object) {
    return std::ranges::any_of(
        pieces, [&](const Piece& p) { return std::ranges::count(p.namings, object, &Naming::object) > 0; });
  };
  const bool objects = any(true);
  if (!objects && !any(false)) return;
  std::unordered_map<std::string, uint32_t> known;
  uint32_t current = kNone;
  bool unnamed = false;
  const auto take = [&](size_t polygons) {
    out.polygonPart.insert(out.polygonPart.end(), polygons, current);
    unnamed |= polygons > 0 && current == kNone;
  };
  for (const Piece& p : pieces) {
    size_t at = 0;
    for (const Naming& n : p.namings) {
      if (n.object != objects) continue;
      take(n.polygon - at);
      at = n.polygon;
      const auto [it, fresh] = known.try_emplace(n.name, static_cast<uint32_t>(out.parts.size()));
      if (fresh) out.parts.push_back(n.name);
      current = it->second;
    }
    take(p.polygonSizes.size() - at);
  }
  if (!unnamed) return;
  std::ranges::replace(out.polygonPart, kNone, static_cast<uint32_t>(out.parts.size()));
  out.parts.emplace_back("default");
}

// Which material each polygon has; what a library beside the file says of them is read by who knows where it
// lies (read_mtl.cpp).
void takeMaterials(const std::vector<Piece>& pieces, Sculpt& out) {
  if (std::ranges::all_of(pieces, [](const Piece& p) { return p.wearings.empty(); })) return;
  auto made = std::make_shared<BroughtMaterials>();
  std::unordered_map<std::string, uint32_t> known;
  uint32_t current = kNone;
  for (const Piece& p : pieces) {
    for (const std::string& library : p.libraries) made->pictures.push_back({library, {}});
    size_t at = 0;
    for (const Wearing& w : p.wearings) {
      made->polygonMaterial.insert(made->polygonMaterial.end(), w.polygon - at, current);
      at = w.polygon;
      const auto [it, fresh] = known.try_emplace(w.material, static_cast<uint32_t>(made->materials.size()));
      if (fresh) made->materials.emplace_back().name = w.material;
      current = it->second;
    }
    made->polygonMaterial.insert(made->polygonMaterial.end(), p.polygonSizes.size() - at, current);
  }
  out.materials = std::move(made);
}

template <class T, class Member>
std::vector<T> joined(std::vector<Piece>& pieces, Member member) {
  std::vector<size_t> start{0};
  for (const Piece& p : pieces) start.push_back(start.back() + (p.*member).size());
  std::vector<T> out(start.back());
  parallel(
      pieces.size(),
      [&](size_t i) {
        auto& own = pieces[i].*member;
        std::ranges::copy(own, out.begin() + static_cast<std::ptrdiff_t>(start[i]));
        own = {};
      },
      1);
  return out;
}

// Per vertex the sum of its corners' normals. A number that names none is passed over: shading can do
// without.
void takeNormals(std::vector<Piece>& pieces, Sculpt& out) {
  const auto normals = joined<Vec3>(pieces, &Piece::normals);
  const auto normalOf = joined<uint32_t>(pieces, &Piece::normalOf);
  if (normals.empty()) return;
  out.normals.assign(out.vertices.size(), Vec3::Zero());
  for (size_t c = 0; c < normalOf.size(); ++c)
    if (normalOf[c] < normals.size() && out.corners[c] < out.normals.size())
      out.normals[out.corners[c]] += normals[normalOf[c]];
}

Result<Sculpt> assembled(std::vector<Piece>& pieces, const std::string& where) {
  Sculpt out;
  size_t vertices = 0, skipped = 0, oddColors = 0;
  bool anyUv = false, anyNormal = false, anyColor = false;
  for (const Piece& p : pieces) {
    anyUv |= !p.uvOf.empty();
    anyNormal |= !p.normalOf.empty();
    anyColor |= !p.colors.empty();
    skipped += p.skipped;
    oddColors += p.oddColors;
    vertices += p.positions.size();
  }
  if (anyColor) {
    out.colors.resize(vertices, {65535, 65535, 65535, 65535});
    parallel(
        pieces.size(),
        [&](size_t i) {
          for (const auto& [vertex, color] : pieces[i].colors)
            out.colors[pieces[i].before.vertices + vertex] = color;
        },
        1);
  }
  for (Piece& p : pieces) {
    if (anyUv) p.uvOf.resize(p.corners.size(), kNone);
    if (anyNormal) p.normalOf.resize(p.corners.size(), kNone);
  }
  chooseParts(pieces, out);
  takeMaterials(pieces, out);
  const auto sizes = joined<uint32_t>(pieces, &Piece::polygonSizes);
  if (!sizes.empty()) out.polygonStart.push_back(0);
  for (const uint32_t n : sizes) out.polygonStart.push_back(out.polygonStart.back() + n);
  placeVertices(out, joined<Eigen::Vector3d>(pieces, &Piece::positions));
  out.corners = joined<uint32_t>(pieces, &Piece::corners);
  if (anyUv)
    out.uvSets.push_back({"UV", joined<Vec2>(pieces, &Piece::uvs), joined<uint32_t>(pieces, &Piece::uvOf)});
  if (anyNormal) takeNormals(pieces, out);
  if (skipped > 0) out.remarks.push_back(fmt::format("{} lines, points or curves were left out", skipped));
  if (oddColors > 0)
    out.remarks.push_back(
        fmt::format("what stands behind the coordinates of {} vertices is no colour", oddColors));
  const Outcome checked = finishSculpt(out, where);
  if (!checked) return checked.error();
  return out;
}

// False when pieces hold other numbers of things than were counted: a line that goes on looked like one of
// its own.
bool readPieces(std::vector<Piece>& pieces, const std::string& where, const Progress& progress,
                bool& stopped) {
  parallel(
      pieces.size(), [&](size_t i) { pieces[i].own = counted(pieces[i].begin, pieces[i].end); }, 1);
  Counts before;
  for (Piece& p : pieces) {
    p.before = before;
    before = before + p.own;
  }
  std::atomic<size_t> done = 0;
  std::atomic<bool> stop = false;
  parallel(
      pieces.size(),
      [&](size_t i) {
        if (stop) return;
        PieceReader(pieces[i], where).read();
        const float part = static_cast<float>(++done) / static_cast<float>(pieces.size());
        if (!report(progress, 0.1f + 0.7f * part)) stop = true;
      },
      1);
  stopped = stop;
  return std::ranges::all_of(pieces, [](const Piece& p) {
    return p.error || (p.positions.size() == p.own.vertices && p.uvs.size() == p.own.uvs &&
                       p.normals.size() == p.own.normals);
  });
}

}  // namespace

Result<Sculpt> readObj(std::string_view text, const std::string& where, const Progress& progress) {
  bool stopped = false;
  // a byte order mark is no part of the first line
  if (text.starts_with("\xef\xbb\xbf")) text.remove_prefix(3);
  std::vector<Piece> pieces = piecesOf(text, kPieceBytes);
  if (!readPieces(pieces, where, progress, stopped) && !stopped) {
    pieces = piecesOf(text, text.size());
    (void)readPieces(pieces, where, progress, stopped);
  }
  if (stopped) return cancelledError();
  for (const Piece& p : pieces)
    if (p.error) return *p.error;
  if (!report(progress, 0.85f)) return cancelledError();
  return assembled(pieces, where);
}

}  // namespace juvenor
