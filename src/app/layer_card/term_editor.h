// The terms of a mask or ramp made of surface maps: one is shown at a time, with its map, its range and how
// it joins the ones before.
#pragma once

#include <QWidget>

#include "core/layers/mask_terms.h"

class QButtonGroup;
class QCheckBox;
class QComboBox;
class QHBoxLayout;
class QPushButton;
class QVBoxLayout;

namespace juvenor::app {

class ValueSlider;

class TermEditor : public QWidget {
  Q_OBJECT
 public:
  TermEditor();
  /// Shows terms; sizes of scales go by the surface's diagonal (scene units), numbers by its millimetres.
  void show(const MaskTerms& terms, float diagonal, float millimetres);
  const MaskTerms& terms() const { return terms_; }
  /// Where the viewer stands as seen from the sculpt, for “from the viewer”.
  void setViewer(const Vec3& direction) { viewer_ = direction; }
  /// The term whose settings are shown, or null when there is none.
  const MaskTerm* term() const;

 signals:
  /// While a slider is dragged.
  void sliding();
  /// Something came to its end: the terms are what the artist wants.
  void changed();

 private:
  void buildRange(QVBoxLayout* column);
  void refresh();
  void choose(int term);
  void edit(const std::function<void(MaskTerm&)>& change, bool final);

  MaskTerms terms_;
  float millimetres_ = 1, diagonal_ = 1;
  Vec3 viewer_ = Vec3::UnitZ();
  int chosen_ = 0;
  bool showing_ = false;
  QHBoxLayout* numbers_;
  QWidget* settings_;
  QComboBox *kind_, *direction_, *combine_;
  struct Number {
    Member<MaskTerm> member;
    ValueSlider* slider;
  };
  std::vector<Number> values_;
  ValueSlider* scale_;
  QCheckBox* invert_;
  QPushButton* again_;
  QPushButton* remove_;
};

}  // namespace juvenor::app
