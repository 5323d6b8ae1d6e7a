#include "app/layer_card/throw_page.h"

#include <QButtonGroup>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/emptied.h"
#include "app/controls/labels.h"

namespace juvenor::app {

template <>
struct KindSettings<Throw> {
  static const Throw* of(const LayerSource& s) { return throwOf(s); }
  static SourcePointer source(Throw settings) { return throwSource(std::move(settings)); }
};

ThrowPage::ThrowPage(Session& session) : SettingsPage(session, "throw") {
  setObjectName("throw page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  buildParts(column);
  addMembers<Throw>(column, "split", "gloss");
  color_ = new QPushButton(tr("Lays colour"));
  color_->setObjectName("throw color");
  color_->setCheckable(true);
  color_->setToolTip(tr("Off, the photos bring relief and gloss alone"));
  column->addWidget(color_);
  connect(color_, &QPushButton::clicked, this, [this](bool on) {
    change([on](const LayerSource& s) { return changed<Throw>(s, [&](Throw& next) { next.color = on; }); },
           tr("What photos lay"));
  });
  column->addWidget(quietLabel(tr("Slides on it; press one to take it off")));
  slides_ = new QVBoxLayout;
  slides_->setSpacing(2);
  column->addLayout(slides_);
  whenShown([this](const LayerSource& s) {
    const Throw* thrown = throwOf(s);
    if (!thrown) return;
    parts_->button(static_cast<int>(thrown->part))->setChecked(true);
    color_->setChecked(thrown->color);
    listSlides(*thrown);
  });
}

void ThrowPage::buildParts(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  parts_ = new QButtonGroup(this);
  const std::pair<QString, QString> parts[] = {
      {tr("all"), tr("The photos as they are")},
      {tr("detail"), tr("Their fine part alone, over the tone of the skin")},
      {tr("tone"), tr("Their broad tones alone")}};
  for (int i = 0; i < kPhotoPartCount; ++i) {
    auto* b = new QPushButton(parts[i].first);
    b->setObjectName("throw lays " + parts[i].first);
    b->setToolTip(parts[i].second);
    b->setCheckable(true);
    b->setStyleSheet("padding: 2px 5px; font-size: 11px;");
    parts_->addButton(b, i);
    row->addWidget(b, 1);
  }
  column->addLayout(row);
  connect(parts_, &QButtonGroup::idClicked, this, [this](int part) {
    change(
        [part](const LayerSource& s) {
          return changed<Throw>(s, [&](Throw& next) { next.part = static_cast<PhotoPart>(part); });
        },
        tr("What photos lay"));
  });
}

void ThrowPage::listSlides(const Throw& thrown) {
  std::vector<uint32_t> ids;
  for (const Slide& s : thrown.slides) ids.push_back(s.id);
  if (ids == listed_) return;
  listed_ = ids;
  empty(*slides_);
  for (const Slide& s : thrown.slides) {
    const QString name = QString::fromStdString(s.name);
    auto* b = new QPushButton(fontMetrics().elidedText(name, Qt::ElideMiddle, 150));
    b->setObjectName("thrown " + name);
    b->setToolTip(tr("Takes “%1” off this layer; the slide itself stays").arg(name));
    b->setEnabled(ids.size() > 1);
    slides_->addWidget(b);
    connect(b, &QPushButton::clicked, this, [this, id = s.id, name] {
      change(
          [id](const LayerSource& source) {
            return changed<Throw>(source, [&](Throw& next) {
              std::erase_if(next.slides, [&](const Slide& slide) { return slide.id == id; });
            });
          },
          tr("Take %1 off").arg(name));
    });
  }
}

}  // namespace juvenor::app

#include "moc_throw_page.cpp"
