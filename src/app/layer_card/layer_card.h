// What the active layer is made of and what masks it: its zones or its ramp, its mask from surface maps, and
// what can be done to its painted mask.
#pragma once

#include <QWidget>

#include "app/easel/easel.h"
#include "app/layer_card/shown_layer.h"

class QButtonGroup;
class QLabel;
class QMenu;
class QPushButton;
class QVBoxLayout;

namespace juvenor::app {

class RampPage;
class StepEditor;
class Strengths;
class TermEditor;

class LayerCard : public QWidget {
  Q_OBJECT
 public:
  LayerCard(Session& session, Easel& easel);

 private:
  /// What is shown while a layer of some kinds is the active one.
  struct SourcePage {
    std::vector<std::string_view> kinds;
    QWidget* widget;
    std::function<void(const Layer&)> show;
  };

  void buildSourcePages(QVBoxLayout* column);
  QWidget* buildMaps();
  QWidget* buildPainted();
  void refresh();
  LayerPointer layer() const;
  ShownLayer::Edit withTerms() const;
  void keepTerms();
  void lookAtMap();
  void maskMenu();
  void fillThroughMenu(QMenu& menu, uint32_t id);
  void showNote();
  void askAmount(const QString& title, const QString& label, double usual,
                 const std::function<Result<Document>(const Document&, float)>& edit, const QString& step);

  Session& session_;
  Easel& easel_;
  ShownLayer layer_;
  std::optional<uint32_t> measuredFor_;  ///< the layer whose maps are being measured
  QLabel *name_, *kind_, *note_, *mapsTitle_;
  QMap<uint32_t, QString> notes_;  ///< what one should know of layers
  std::vector<SourcePage> sourcePages_;
  RampPage* ramp_;
  Strengths* strengths_;
  StepEditor* steps_;
  /// The maps the editor below it works on: those of the kind itself, or null: the layer's mask.
  const MaskTerms* ownTerms(const Layer& layer) const;

  QButtonGroup* termsOf_;  ///< 0 the kind's own, 1 the mask
  TermEditor* terms_;
  QButtonGroup* looks_;
  QPushButton *maskButton_, *shown_;
};

/// Asks for the colours, tolerance and fade of a mask from a colour range; starts with the colour in hand and
/// the wells. True when the artist said yes.
struct ColorRange {
  std::vector<EncodedColor> colors;
  float tolerance = 8, fade = 4;
};
bool askColorRange(QWidget* parent, Session& session, uint32_t mask, ColorRange& range);
/// Asks for the range of brightness (L* of the layer) a mask shows.
bool askBrightness(QWidget* parent, Session& session, uint32_t mask, MaskTerm& range);

}  // namespace juvenor::app
