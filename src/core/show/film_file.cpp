#include "core/show/film_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/files.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/opt.h>
#include <libswscale/swscale.h>
}

namespace juvenor {

// What FFmpeg's libraries hand out, and how each is given back.
namespace film {

struct Freed {
  void operator()(AVCodecContext* c) const { avcodec_free_context(&c); }
  void operator()(AVFrame* f) const { av_frame_free(&f); }
  void operator()(AVPacket* p) const { av_packet_free(&p); }
  void operator()(SwsContext* s) const { sws_freeContext(s); }
};
// One that is written: its file is closed with it.
struct Written {
  void operator()(AVFormatContext* f) const {
    if (f->pb) avio_closep(&f->pb);
    avformat_free_context(f);
  }
};
struct BeingRead {
  void operator()(AVFormatContext* f) const { avformat_close_input(&f); }
};
using Writing = std::unique_ptr<AVFormatContext, Written>;
using Reading = std::unique_ptr<AVFormatContext, BeingRead>;

}  // namespace film

namespace {

namespace fs = std::filesystem;

std::string said(int code) {
  std::array<char, AV_ERROR_MAX_STRING_SIZE> text{};
  av_strerror(code, text.data(), text.size());
  return text.data();
}

Error filmError(const fs::path& file, std::string_view what, int code) {
  return {fmt::format("{} ({})", what, said(code)), file.string()};
}

using film::Freed, film::Reading, film::Writing;

// What a file of this ending is written with.
struct FilmKind {
  std::string_view ending;
  const char* container;
  std::array<const char*, 2> encoders;  // the first that is there
};
constexpr std::array<FilmKind, 2> kFilmKinds{
    {{".webm", "webm", {"libvpx-vp9", nullptr}}, {".mkv", "matroska", {"libsvtav1", "libaom-av1"}}}};

const FilmKind* kindOf(const fs::path& file) {
  std::string ending = file.extension().string();
  std::ranges::transform(ending, ending.begin(),
                         [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  const auto found = std::ranges::find(kFilmKinds, ending, &FilmKind::ending);
  return found == kFilmKinds.end() ? nullptr : &*found;
}

const AVCodec* encoderOf(const FilmKind& kind) {
  for (const char* name : kind.encoders)
    if (const AVCodec* codec = name ? avcodec_find_encoder_by_name(name) : nullptr) return codec;
  return nullptr;
}

void setOptions(AVCodecContext& codec, const ViewSize& size, int perSecond, float quality) {
  codec.width = size.width;
  codec.height = size.height;
  codec.time_base = {1, perSecond};
  codec.framerate = {perSecond, 1};
  codec.pix_fmt = AV_PIX_FMT_YUV420P;
  codec.color_primaries = AVCOL_PRI_BT709;
  codec.color_trc = AVCOL_TRC_IEC61966_2_1;
  codec.colorspace = AVCOL_SPC_BT709;
  codec.color_range = AVCOL_RANGE_MPEG;
  codec.gop_size = perSecond * 4;
  codec.thread_count = 0;
  // Matroska has what a decoder needs first in its own head
  codec.flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
  // as VP9 and AV1 count: 63 is worst
  const int level = static_cast<int>(std::lround(48 - 36 * std::clamp(quality, 0.f, 1.f)));
  av_opt_set_int(codec.priv_data, "crf", level, 0);
  // (what an encoder does not know it does not take)
  av_opt_set(codec.priv_data, "deadline", "good", 0);
  av_opt_set_int(codec.priv_data, "cpu-used", 4, 0);
  av_opt_set_int(codec.priv_data, "row-mt", 1, 0);
  av_opt_set_int(codec.priv_data, "preset", 8, 0);
}

}  // namespace

struct FilmFile::Inside {
  fs::path file;
  ViewSize size;
  int64_t next = 0;
  bool ended = false;
  Writing out;
  std::unique_ptr<AVCodecContext, Freed> codec;
  std::unique_ptr<AVFrame, Freed> frame;
  std::unique_ptr<AVPacket, Freed> packet;
  std::unique_ptr<SwsContext, Freed> scale;
  AVStream* stream = nullptr;

  Outcome openCodec(const FilmKind& kind, int perSecond, float quality);
  Outcome openFile(const FilmKind& kind);
  Outcome openScale();
  Outcome drain();
};

Outcome FilmFile::Inside::openCodec(const FilmKind& kind, int perSecond, float quality) {
  const AVCodec* encoder = encoderOf(kind);
  if (!encoder) return Error{"cannot be written: FFmpeg has no encoder for it here", file.string()};
  codec.reset(avcodec_alloc_context3(encoder));
  packet.reset(av_packet_alloc());
  frame.reset(av_frame_alloc());
  if (!codec || !packet || !frame) return Error{"there is not enough memory for it", file.string()};
  setOptions(*codec, size, perSecond, quality);
  if (const int e = avcodec_open2(codec.get(), encoder, nullptr); e < 0)
    return filmError(file, "cannot be encoded", e);
  frame->format = codec->pix_fmt;
  frame->width = size.width;
  frame->height = size.height;
  frame->color_range = codec->color_range;
  frame->colorspace = codec->colorspace;
  if (const int e = av_frame_get_buffer(frame.get(), 0); e < 0)
    return filmError(file, "there is not enough memory for it", e);
  return Done{};
}

Outcome FilmFile::Inside::openFile(const FilmKind& kind) {
  AVFormatContext* made = nullptr;
  if (const int e = avformat_alloc_output_context2(&made, nullptr, kind.container, file.c_str()); e < 0)
    return filmError(file, "cannot be written", e);
  out.reset(made);
  stream = avformat_new_stream(out.get(), nullptr);
  if (!stream) return Error{"there is not enough memory for it", file.string()};
  stream->time_base = codec->time_base;
  stream->avg_frame_rate = codec->framerate;
  if (const int e = avcodec_parameters_from_context(stream->codecpar, codec.get()); e < 0)
    return filmError(file, "cannot be written", e);
  if (const int e = avio_open(&out->pb, file.c_str(), AVIO_FLAG_WRITE); e < 0)
    return filmError(file, "cannot be written", e);
  if (const int e = avformat_write_header(out.get(), nullptr); e < 0)
    return filmError(file, "cannot be written", e);
  return Done{};
}

Outcome FilmFile::Inside::openScale() {
  scale.reset(sws_getContext(size.width, size.height, AV_PIX_FMT_BGR0, size.width, size.height,
                             codec->pix_fmt, SWS_BICUBIC | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INP, nullptr,
                             nullptr, nullptr));
  if (!scale) return Error{"its pictures cannot be made into a film's", file.string()};
  const int* matrix = sws_getCoefficients(SWS_CS_ITU709);
  sws_setColorspaceDetails(scale.get(), matrix, 1, matrix, 0, 0, 1 << 16, 1 << 16);
  return Done{};
}

// Takes from the encoder what it has ready.
Outcome FilmFile::Inside::drain() {
  while (true) {
    const int e = avcodec_receive_packet(codec.get(), packet.get());
    if (e == AVERROR(EAGAIN) || e == AVERROR_EOF) return Done{};
    if (e < 0) return filmError(file, "cannot be encoded", e);
    av_packet_rescale_ts(packet.get(), codec->time_base, stream->time_base);
    packet->stream_index = stream->index;
    if (packet->duration == 0) packet->duration = av_rescale_q(1, codec->time_base, stream->time_base);
    if (const int w = av_interleaved_write_frame(out.get(), packet.get()); w < 0)
      return filmError(file, "was not written", w);
  }
}

FilmFile::FilmFile(std::unique_ptr<Inside> inside) : inside_(std::move(inside)) {}
FilmFile::~FilmFile() = default;

Outcome checkedFilmFile(const fs::path& file, const ViewSize& size) {
  const FilmKind* kind = kindOf(file);
  if (!kind)
    return Error{
        "has no ending a film is written with: .webm (VP9), .mkv (AV1), or .png for numbered pictures",
        file.string()};
  if (!encoderOf(*kind)) return Error{"cannot be written: FFmpeg has no encoder for it here", file.string()};
  if (size.width % 2 != 0 || size.height % 2 != 0 || size.width < 64 || size.height < 64)
    return Error{fmt::format("a film's width and height are even and 64 pixels or more, not {} × {}",
                             size.width, size.height),
                 file.string()};
  return Done{};
}

Result<std::unique_ptr<FilmFile>> FilmFile::begin(const fs::path& file, const fs::path& named,
                                                  const ViewSize& size, int perSecond, float quality) {
  if (const Outcome ok = checkedFilmFile(named, size); !ok) return ok.error();
  av_log_set_level(AV_LOG_ERROR);
  // the encoder that talks to the terminal is told not to
  setenv("SVT_LOG", "1", 0);
  auto inside = std::make_unique<Inside>();
  inside->file = file;
  inside->size = size;
  const FilmKind& kind = *kindOf(named);
  Outcome ok = inside->openCodec(kind, perSecond, quality);
  if (ok) ok = inside->openFile(kind);
  if (ok) ok = inside->openScale();
  if (!ok) return ok.error();
  return std::unique_ptr<FilmFile>(new FilmFile(std::move(inside)));
}

Outcome FilmFile::add(std::span<const uint32_t> pixels) {
  Inside& in = *inside_;
  const auto wide = static_cast<size_t>(in.size.width);
  if (pixels.size() != wide * static_cast<size_t>(in.size.height))
    return Error{"a picture is not as large as the film", in.file.string()};
  if (const int e = av_frame_make_writable(in.frame.get()); e < 0)
    return filmError(in.file, "there is not enough memory for it", e);
  const auto* const data = reinterpret_cast<const uint8_t*>(pixels.data());
  const int stride = in.size.width * 4;
  sws_scale(in.scale.get(), &data, &stride, 0, in.size.height, in.frame->data, in.frame->linesize);
  in.frame->pts = in.next++;
  if (const int e = avcodec_send_frame(in.codec.get(), in.frame.get()); e < 0)
    return filmError(in.file, "cannot be encoded", e);
  return in.drain();
}

Outcome FilmFile::end() {
  Inside& in = *inside_;
  if (in.ended) return Done{};
  in.ended = true;
  if (const int e = avcodec_send_frame(in.codec.get(), nullptr); e < 0)
    return filmError(in.file, "cannot be encoded", e);
  if (const Outcome rest = in.drain(); !rest) return rest;
  if (const int e = av_write_trailer(in.out.get()); e < 0) return filmError(in.file, "was not written", e);
  if (const int e = avio_closep(&in.out->pb); e < 0) return filmError(in.file, "was not written", e);
  return Done{};
}

namespace {

Result<Reading> openFilm(const fs::path& file) {
  AVFormatContext* opened = nullptr;
  if (const int e = avformat_open_input(&opened, file.c_str(), nullptr, nullptr); e < 0)
    return filmError(file, "is no film that can be read", e);
  Reading in(opened);
  if (const int e = avformat_find_stream_info(in.get(), nullptr); e < 0)
    return filmError(file, "is no film that can be read", e);
  if (in->nb_streams != 1 || in->streams[0]->codecpar->codec_type != AVMEDIA_TYPE_VIDEO)
    return Error{"holds more than one film's pictures", file.string()};
  return in;
}

bool alike(const AVStream& a, const AVStream& b) {
  return a.codecpar->codec_id == b.codecpar->codec_id && a.codecpar->width == b.codecpar->width &&
         a.codecpar->height == b.codecpar->height && av_cmp_q(a.avg_frame_rate, b.avg_frame_rate) == 0;
}

// Copies the packets of one part behind what was written; `from` counts on, in the written stream's time.
Outcome copyPart(AVFormatContext& in, AVFormatContext& out, const fs::path& file, int64_t& from) {
  const std::unique_ptr<AVPacket, Freed> packet(av_packet_alloc());
  if (!packet) return Error{"there is not enough memory for it", file.string()};
  const AVStream& read = *in.streams[0];
  AVStream& written = *out.streams[0];
  const int64_t step = av_rescale_q(1, av_inv_q(read.avg_frame_rate), written.time_base);
  int64_t last = from;
  while (true) {
    const int e = av_read_frame(&in, packet.get());
    if (e == AVERROR_EOF) break;
    if (e < 0) return filmError(file, "cannot be read to its end", e);
    av_packet_rescale_ts(packet.get(), read.time_base, written.time_base);
    if (packet->pts == AV_NOPTS_VALUE) return Error{"has pictures without a time", file.string()};
    packet->pts += from;
    packet->dts = packet->dts == AV_NOPTS_VALUE ? packet->pts : packet->dts + from;
    packet->stream_index = 0;
    packet->pos = -1;
    last = std::max(last, packet->pts + step);
    if (const int w = av_interleaved_write_frame(&out, packet.get()); w < 0)
      return filmError(file, "was not written", w);
  }
  from = last;
  return Done{};
}

// An error told of the joined film that names the part it lies in.
Error ofPart(const fs::path& part, const Error& error) {
  return {fmt::format("cannot be joined: “{}” {}", part.filename().string(), error.what)};
}

Outcome joinInto(std::span<const fs::path> parts, const fs::path& file, const FilmKind& kind) {
  auto first = openFilm(parts[0]);
  if (!first) return ofPart(parts[0], first.error());
  AVFormatContext* made = nullptr;
  if (const int e = avformat_alloc_output_context2(&made, nullptr, kind.container, file.c_str()); e < 0)
    return filmError(file, "cannot be written", e);
  const Writing out(made);
  AVStream* stream = avformat_new_stream(out.get(), nullptr);
  if (!stream) return Error{"there is not enough memory for it", file.string()};
  const AVStream& like = *(*first)->streams[0];
  if (const int e = avcodec_parameters_copy(stream->codecpar, like.codecpar); e < 0)
    return filmError(file, "cannot be written", e);
  stream->codecpar->codec_tag = 0;
  stream->time_base = like.time_base;
  stream->avg_frame_rate = like.avg_frame_rate;
  if (const int e = avio_open(&out->pb, file.c_str(), AVIO_FLAG_WRITE); e < 0)
    return filmError(file, "cannot be written", e);
  if (const int e = avformat_write_header(out.get(), nullptr); e < 0)
    return filmError(file, "cannot be written", e);
  int64_t from = 0;
  for (const fs::path& part : parts) {
    auto in = openFilm(part);
    if (!in) return ofPart(part, in.error());
    if (!alike(*(*in)->streams[0], like))
      return ofPart(part, {"has another size, speed or codec than the first part"});
    if (const Outcome ok = copyPart(**in, *out, part, from); !ok) return ofPart(part, ok.error());
  }
  if (const int e = av_write_trailer(out.get()); e < 0) return filmError(file, "was not written", e);
  if (const int e = avio_closep(&out->pb); e < 0) return filmError(file, "was not written", e);
  return Done{};
}

}  // namespace

Outcome joinFilms(std::span<const fs::path> parts, const fs::path& out) {
  const FilmKind* kind = kindOf(out);
  if (!kind) return Error{"has no ending a film is written with: .webm or .mkv", out.string()};
  if (parts.empty()) return Error{"there is no part to join"};
  return replacedWhole(out, [&](const fs::path& partial) { return joinInto(parts, partial, *kind); });
}

}  // namespace juvenor
