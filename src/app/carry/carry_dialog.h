// Carry over: the old sculpt with its work at the left, the new one at the right, turning together. What
// comes of it is worked out at once, shown, and told; pins and pairs of parts say more where it is not as it
// should be; then it is taken, as one step.
#pragma once

#include <QDialog>
#include <functional>

#include "app/carry/carry_pins.h"
#include "core/carry/carry_over.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QVBoxLayout;

namespace juvenor::app {

class CarryDialog : public QDialog {
  Q_OBJECT
 public:
  CarryDialog(const Document& old, std::shared_ptr<const Sculpt> fresh, const QString& name, QWidget* parent);

  /// What came of it, once it was accepted.
  const std::shared_ptr<const CarriedOver>& result() const { return result_; }
  /// The same of a document that is another by now, worked out again where it is.
  std::function<Result<Document>(const Document& now, const Progress& progress)> edit() const;

 private:
  QWidget* buildViews();
  QWidget* buildPins();
  QWidget* buildParts();
  void work();
  void take(const Outcome& done, std::shared_ptr<CarriedOver> made, std::shared_ptr<const Document> bare);
  void grow();
  void place(bool onOld, const Vec3& at);
  /// Pins or parts are others than what is shown came of.
  void changed();
  void showPins();
  void showParts();
  void tell();
  CarrySetting setting() const;
  /// From a document's scene to the one that stands as the old document does, and back.
  Vec3 standing(const Document& document, const Vec3& place, bool back) const;

  std::shared_ptr<const Document> old_;
  std::shared_ptr<const Sculpt> fresh_;
  std::shared_ptr<const Document> shown_;  ///< of the new sculpt
  std::shared_ptr<const CarriedOver> result_;
  std::optional<Error> trouble_;
  CarryPins pins_;
  CarryLook look_;
  bool stale_ = false;
  CarryView *oldView_, *freshView_;
  QCheckBox *doubt_, *keepLost_, *checkpoints_;
  QLabel *says_, *left_, *waits_;
  QProgressBar* progress_;
  QPushButton *again_, *accept_, *landmarks_, *takeBack_, *clear_;
  QVBoxLayout* rows_;
  std::vector<QComboBox*> choices_;  ///< one for each part of the new sculpt
  Background background_, growing_;
};

}  // namespace juvenor::app
