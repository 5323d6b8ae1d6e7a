// A document with all that pictures of it need, worked out once: its skin, its relief, rays, hair, and the
// light that lies on it. Stills, films and sheets of several pictures are all made from one; a camera changes
// nothing in it, a light only what lies on the skin.
#pragma once

#include "core/document/document.h"
#include "core/hair/fibre_rays.h"
#include "core/render/picture.h"

namespace juvenor {

class ShownScene {
 public:
  using Pointer = std::shared_ptr<ShownScene>;

  /// Composites the skin and makes rays; `hair`: grows it too. The document is copied.
  static Result<Pointer> of(const Document& document, bool hair, const Progress& progress = {});

  /// Lays a light, as it stands in the scene, on all of the skin, with all rays it needs; spread along the
  /// skin when `spread`. `clayFrom`: the viewer's right, up and back. Where it lies already nothing is done.
  Outcome setLight(const Light& light, const Eigen::Matrix3f& clayFrom, bool spread,
                   const Progress& progress = {});
  /// Works out once how any soft light spreads (spread_transfer.h), so that one that turns is laid in a
  /// fraction of the time. After a light was set; does nothing on surfaces too large for it.
  Outcome readyForTurningLight(const Progress& progress = {});

  /// What shading from a camera starts from; its `lit` is empty before a light was set. Lives as long as
  /// this.
  ShadeInput input(const Camera& camera, View view) const;

  const Document& document() const { return document_; }
  const Rays& rays() const { return *rays_; }
  const FibreRays* hair() const { return hair_.get(); }
  const ChannelFields& skin() const { return skin_; }
  std::span<const Cornea> corneas() const { return corneas_; }
  const ReliefNormals& relief() const { return *relief_; }

 private:
  Document document_;
  RaysPointer rays_;
  ChannelFields skin_;
  std::unique_ptr<const ReliefNormals> relief_;
  std::unique_ptr<Lighting> lighting_;
  std::vector<Cornea> corneas_;
  FibreRaysPointer hair_;
  Light light_;
};

/// The light as this skin takes it: what has no colour is no skin yet, and light does not wander in it.
Light lightOn(const Document& document, Light light);

}  // namespace juvenor
