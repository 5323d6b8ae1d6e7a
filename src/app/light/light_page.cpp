#include "app/light/light_page.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/spoken.h"
#include "app/controls/value_slider.h"
#include "app/session/job.h"
#include "app/session/words.h"
#include "app/style/style.h"
#include "core/render/light_ball.h"

namespace juvenor::app {
namespace {

constexpr int kBall = 96, kRoom = 148;
constexpr double kDegree = M_PI / 180;

QImage pictureOf(const MadePanorama& made) {
  const Panorama p = made.make(128);
  QImage out(64, 32, QImage::Format_RGB32);
  for (int y = 0; y < 32; ++y)
    for (int x = 0; x < 64; ++x) {
      const Vec3& l = p.pixels[static_cast<size_t>(2 * y * p.width + 2 * x)];
      const auto byte = [](float v) {
        return static_cast<int>(encodeSrgb(std::clamp(v, 0.f, 1.f)) * 255 + 0.5f);
      };
      out.setPixelColor(x, y, QColor(byte(l.x()), byte(l.y()), byte(l.z())));
    }
  return out;
}

}  // namespace

QString nameOf(const Light& light) {
  switch (light.kind) {
    case LightKind::Overcast:
      return LightPage::tr("Overcast");
    case LightKind::Lamps:
      return LightPage::tr("Lamps");
    default:
      for (const MadePanorama& made : madePanoramas())
        if (made.key == light.surroundings) return told(made.label);
      return QFileInfo(QString::fromStdString(light.surroundings)).completeBaseName();
  }
}

LightBall::LightBall() {
  setFixedSize(kRoom, kRoom);
  setFocusPolicy(Qt::StrongFocus);
  setObjectName("light ball");
  setAccessibleName(tr("Where the lamp stands"));
  setToolTip(
      tr("Drag to say where the chosen lamp stands: on the ball before the sculpt, beyond its edge "
         "behind it; or use the arrow keys"));
  speak(this, {QAccessible::Dial, [this] {
                 const Lamp& lamp = light_.lamps[static_cast<size_t>(lamp_)];
                 return tr("%1° around, %2° up").arg(std::lround(lamp.around)).arg(std::lround(lamp.up));
               }});
}

void LightBall::show(const Light& light, int lamp) {
  light_ = light;
  lamp_ = lamp;
  const auto pixels = lightBall(light, kBall);
  picture_ =
      QImage(reinterpret_cast<const uchar*>(pixels.data()), kBall, kBall, QImage::Format_ARGB32).copy();
  update();
  tellValue(this);
}

// Before the sculpt by the direction as seen; behind it that mirrored at the ball's edge.
QPointF LightBall::markOf(const Lamp& lamp) const {
  Light light = light_;
  const Vec3 d = lampDirection(light, lamp);
  QPointF p(static_cast<double>(d.x()), static_cast<double>(-d.y()));
  const double r = std::hypot(p.x(), p.y());
  if (d.z() < 0 && r > 1e-6) p *= (1 + 0.5 * (1 - r)) / r;
  return QPointF(kRoom / 2.0, kRoom / 2.0) + kBall / 2.0 * p;
}

void LightBall::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(look::kWell);
  p.drawEllipse(rect().adjusted(1, 1, -1, -1));
  p.drawImage((kRoom - kBall) / 2, (kRoom - kBall) / 2, picture_);
  if (light_.kind == LightKind::Lamps)
    for (size_t l = 0; l < kLampCount; ++l) {
      if (!light_.lamps[l].on) continue;
      const bool chosen = static_cast<int>(l) == lamp_;
      p.setPen(QPen(QColor(0x20, 0x20, 0x20), 1));
      p.setBrush(chosen ? look::kAccent : QColor(0xd0, 0xd0, 0xd0));
      p.drawEllipse(markOf(light_.lamps[l]), chosen ? 5.5 : 4, chosen ? 5.5 : 4);
    }
  if (!hasFocus()) return;
  p.setPen(QPen(look::kAccent, 1.2));
  p.setBrush(Qt::NoBrush);
  p.drawEllipse(rect().adjusted(1, 1, -2, -2));
}

void LightBall::mousePressEvent(QMouseEvent* event) {
  if (light_.kind != LightKind::Lamps) return;
  const QPointF d = (event->position() - QPointF(kRoom / 2.0, kRoom / 2.0)) / (kBall / 2.0);
  const double r = std::hypot(d.x(), d.y());
  const bool behind = r > 1;
  const double length = behind ? std::max(0.0, 1 - 2 * (r - 1)) : r;
  const double x = r > 1e-6 ? d.x() / r * length : 0, y = r > 1e-6 ? -d.y() / r * length : 0;
  const double z = (behind ? -1 : 1) * std::sqrt(std::max(0.0, 1 - x * x - y * y));
  emit placed(static_cast<float>(std::atan2(x, z) / kDegree) - light_.dial,
              static_cast<float>(std::asin(std::clamp(y, -1.0, 1.0)) / kDegree));
}

void LightBall::keyPressEvent(QKeyEvent* event) {
  const int key = event->key();
  const float across = key == Qt::Key_Left ? -5.f : key == Qt::Key_Right ? 5.f : 0.f;
  const float above = key == Qt::Key_Down ? -5.f : key == Qt::Key_Up ? 5.f : 0.f;
  if (light_.kind != LightKind::Lamps || (across == 0 && above == 0)) return QWidget::keyPressEvent(event);
  const Lamp& lamp = light_.lamps[static_cast<size_t>(lamp_)];
  emit placed(lamp.around + across, std::clamp(lamp.up + above, -90.f, 90.f));
}

// An edge sets the page off from the panels it lies over.
void LightPage::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), look::kSelected);
  p.fillRect(rect().adjusted(1, 1, -1, -1), look::kPanel);
}

LightPage::LightPage(Session& session, Easel& easel)
    : QWidget(nullptr, Qt::Popup), session_(session), easel_(easel) {
  setObjectName("light page");
  setFixedWidth(340);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 10, 14, 12);
  column->setSpacing(8);
  column->addWidget(titleLabel(tr("Light")));
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  kinds_ = new QButtonGroup(this);
  const QStringList names{tr("Overcast"), tr("Lamps"), tr("Surroundings")};
  const QStringList tips{tr("A soft neutral sky: colours are judged under it"),
                         tr("A key, a fill and a rim lamp with shadows, and a catch light"),
                         tr("A panorama lights the skin and is mirrored in it")};
  for (int i = 0; i < 3; ++i) {
    auto* b = new QPushButton(names[i]);
    b->setCheckable(true);
    b->setToolTip(tips[i]);
    b->setObjectName("light " + QString::fromUtf8(lightKindKey(static_cast<LightKind>(i))));
    kinds_->addButton(b, i);
    row->addWidget(b, 1);
  }
  column->addLayout(row);
  pages_ = new QStackedWidget;
  auto* sky = quietLabel(tr("The dial beside the views turns the bright patch of the sky."));
  sky->setAlignment(Qt::AlignTop);
  pages_->addWidget(sky);
  pages_->addWidget(buildLamps());
  pages_->addWidget(buildSurroundings());
  column->addWidget(pages_);
  exposure_ = new ValueSlider(tr("Exposure"), {-4, 4, 1, tr("stops"), false, 1});
  exposure_->setToolTip(tr("How bright the picture is; Flat shows what is stored whatever it says"));
  depth_ = new ValueSlider(tr("Wanders"), {0, 4, 100, "%", false, 0});
  depth_->setToolTip(tr("How far light wanders in the skin; human skin is 100 %, jelly more, hide less"));
  column->addWidget(exposure_);
  column->addWidget(depth_);
  connect(kinds_, &QButtonGroup::idClicked, this, [this](int kind) {
    if (kind == static_cast<int>(LightKind::Surroundings))
      return surround(easel_.viewing().light.surroundings);
    change([kind](Light& l) { l.kind = static_cast<LightKind>(kind); });
  });
  connect(exposure_, &ValueSlider::changed, this,
          [this](double v) { change([v](Light& l) { l.exposure = static_cast<float>(v); }); });
  connect(depth_, &ValueSlider::changed, this,
          [this](double v) { change([v](Light& l) { l.depth = std::max(0.01f, static_cast<float>(v)); }); });
  connect(&easel_, &Easel::viewingChanged, this, &LightPage::refresh);
  refresh();
}

QWidget* LightPage::buildLamps() {
  auto* page = new QWidget;
  auto* row = new QHBoxLayout(page);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(12);
  ball_ = new LightBall;
  row->addWidget(ball_, 0, Qt::AlignTop);
  auto* column = new QVBoxLayout;
  column->setSpacing(4);
  auto* names = new QHBoxLayout;
  names->setSpacing(2);
  lampButtons_ = new QButtonGroup(this);
  const QStringList labels{tr("Key"), tr("Fill"), tr("Rim"), tr("Catch")};
  const QStringList does{tr("The lamp that shapes the form"), tr("What brightens the shadows"),
                         tr("From behind: it draws the outline"),
                         tr("It is mirrored and lights nothing: what stands in an eye")};
  for (int i = 0; i < labels.size(); ++i) {
    auto* b = new QPushButton(labels[i]);
    b->setToolTip(does[i]);
    b->setCheckable(true);
    b->setChecked(i == 0);
    b->setObjectName("lamp " + labels[i]);
    b->setStyleSheet("padding: 3px 0; font-size: 11px;");
    lampButtons_->addButton(b, i);
    names->addWidget(b, 1);
  }
  column->addLayout(names);
  on_ = new QCheckBox(tr("on"));
  auto* place = new QPushButton(tr("Place on the skin"));
  place->setObjectName("lamp place");
  place->setToolTip(tr("Then a press on the skin says where this lamp's highlight is to be"));
  auto* first = new QHBoxLayout;
  first->addWidget(on_);
  first->addWidget(place, 1);
  column->addLayout(first);
  connect(place, &QPushButton::clicked, this, [this] {
    hide();
    easel_.placeLamp(static_cast<size_t>(lamp_), lampButtons_->button(lamp_)->text());
  });
  strength_ = new ValueSlider(tr("Strength"), {0, 4, 100, "%", false, 0});
  size_ = new ValueSlider(tr("Size"), {0, 90, 1, "°", false, 0});
  size_->setToolTip(tr("How large the lamp is as seen from the skin; shadow edges get softer with it"));
  kelvin_ = new ValueSlider(tr("Colour"), {kWarmestKelvin, kCoolestKelvin, 1, "K", true, 0});
  kelvin_->setToolTip(tr("Candle 1900 K, bulb 2800 K, noon 5500 K, overcast 6500 K, blue sky 12 000 K"));
  for (ValueSlider* s : {strength_, size_, kelvin_}) column->addWidget(s);
  row->addLayout(column, 1);
  connect(lampButtons_, &QButtonGroup::idClicked, this, [this](int lamp) {
    lamp_ = lamp;
    refresh();
  });
  connect(ball_, &LightBall::placed, this, [this](float around, float up) {
    changeLamp([=](Lamp& l) {
      l.around = std::remainder(around, 360.f);
      l.up = up;
    });
  });
  connect(on_, &QCheckBox::clicked, this, [this](bool on) { changeLamp([on](Lamp& l) { l.on = on; }); });
  connect(strength_, &ValueSlider::changed, this,
          [this](double v) { changeLamp([v](Lamp& l) { l.strength = static_cast<float>(v); }); });
  connect(size_, &ValueSlider::changed, this,
          [this](double v) { changeLamp([v](Lamp& l) { l.size = static_cast<float>(v); }); });
  connect(kelvin_, &ValueSlider::changed, this,
          [this](double v) { changeLamp([v](Lamp& l) { l.kelvin = static_cast<float>(v); }); });
  return page;
}

QWidget* LightPage::buildSurroundings() {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  made_ = new QButtonGroup(this);
  int id = 0;
  for (const MadePanorama& made : madePanoramas()) {
    auto* b = new QPushButton;
    b->setCheckable(true);
    b->setIcon(QIcon(QPixmap::fromImage(pictureOf(made))));
    b->setIconSize({64, 32});
    b->setToolTip(told(made.label));
    b->setAccessibleName(told(made.label));
    b->setObjectName("surroundings " + QString::fromUtf8(made.key));
    made_->addButton(b, id++);
    row->addWidget(b, 1);
  }
  column->addLayout(row);
  auto* open = new QPushButton(tr("Panorama from a file …"));
  open->setToolTip(tr("A .hdr, .exr or .png, about twice as wide as high"));
  column->addWidget(open);
  brightness_ = new ValueSlider(tr("Brightness"), {0, 4, 100, "%", false, 0});
  column->addWidget(brightness_);
  column->addStretch();
  connect(made_, &QButtonGroup::idClicked, this,
          [this](int chosen) { surround(std::string(madePanoramas()[static_cast<size_t>(chosen)].key)); });
  connect(open, &QPushButton::clicked, this, [this] {
    const QString file =
        QFileDialog::getOpenFileName(session_.isOpen() ? parentWidget() : nullptr, tr("Panorama"), {},
                                     tr("Panoramas (*.hdr *.exr *.png *.jpg *.tif)"));
    if (!file.isEmpty()) surround(file.toStdString());
  });
  connect(brightness_, &ValueSlider::changed, this,
          [this](double v) { change([v](Light& l) { l.brightness = static_cast<float>(v); }); });
  return page;
}

void LightPage::surround(const std::string& surroundings) {
  const auto environment = runJobFor<EnvironmentPointer>(
      this, tr("Reading the surroundings …"), [&](const Progress&) { return environmentFor(surroundings); });
  if (!environment) {
    session_.tell(environment.error());
    return refresh();
  }
  change([&](Light& l) {
    l.kind = LightKind::Surroundings;
    l.surroundings = surroundings;
    l.environment = *environment;
  });
}

void LightPage::change(const std::function<void(Light&)>& changed) {
  Light light = easel_.viewing().light;
  changed(light);
  easel_.setLight(light);
}

void LightPage::changeLamp(const std::function<void(Lamp&)>& changed) {
  change([&](Light& l) { changed(l.lamps[static_cast<size_t>(lamp_)]); });
}

void LightPage::showEvent(QShowEvent*) {
  refresh();
}

void LightPage::refresh() {
  if (!isVisible() && kinds_->checkedId() >= 0) return;
  const Light& light = easel_.viewing().light;
  const Lamp& lamp = light.lamps[static_cast<size_t>(lamp_)];
  const int kind = static_cast<int>(light.kind);
  kinds_->button(kind)->setChecked(true);
  pages_->setCurrentIndex(kind);
  ball_->show(light, lamp_);
  on_->setChecked(lamp.on);
  strength_->show(static_cast<double>(lamp.strength));
  size_->show(static_cast<double>(lamp.size));
  kelvin_->show(static_cast<double>(lamp.kelvin));
  brightness_->show(static_cast<double>(light.brightness));
  exposure_->show(static_cast<double>(light.exposure));
  depth_->show(static_cast<double>(light.depth));
  made_->setExclusive(false);
  for (size_t i = 0; i < madePanoramas().size(); ++i)
    made_->button(static_cast<int>(i))->setChecked(light.surroundings == madePanoramas()[i].key);
}

}  // namespace juvenor::app

#include "moc_light_page.cpp"
