#include "app/easel/cut_bar.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <algorithm>

#include "app/controls/value_slider.h"

namespace juvenor::app {

CutBar::CutBar(QWidget* easel) : QFrame(easel) {
  setObjectName("cut bar");
  setStyleSheet(
      "juvenor--app--CutBar { background: #434343; border: 1px solid #6d6d6d; border-radius: 4px; }");
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(8, 5, 8, 5);
  depth_ = new ValueSlider(tr("Cut away"), {0, 1, 1, tr("mm"), false, 1});
  depth_->setObjectName("cut depth");
  depth_->setFixedWidth(168);
  depth_->setToolTip(
      tr("How far in from the front nothing is seen, nor painted; Ctrl and the wheel move it"));
  auto* whole = new QPushButton(tr("Whole"));
  whole->setObjectName("cut whole");
  whole->setToolTip(tr("Cuts nothing away any more"));
  row->addWidget(depth_);
  row->addWidget(whole);
  connect(depth_, &ValueSlider::changed, this,
          [this](double v) { emit moved(static_cast<float>(v) / millimetres_); });
  connect(whole, &QPushButton::clicked, this, &CutBar::wholeWanted);
  hide();
}

void CutBar::follow(const Camera& camera, const DepthRange& range, float millimetres) {
  setVisible(camera.cuts());
  if (!camera.cuts()) return;
  millimetres_ = millimetres;
  const auto whole = static_cast<double>(millimetres * (range.front - range.back));
  depth_->setScale({0, std::max(1e-3, whole), 1, tr("mm"), false, whole < 20 ? 2 : 1});
  depth_->show(std::clamp(static_cast<double>(millimetres * (range.front - camera.cutAway)), 0.0, whole));
  layOut();
}

void CutBar::layOut() {
  adjustSize();
  move(parentWidget()->width() - width() - 14, 36);
}

}  // namespace juvenor::app

#include "moc_cut_bar.cpp"
