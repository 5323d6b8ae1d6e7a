#include "app/course/course.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QToolTip>
#include <cmath>

#include "app/controls/bind_key.h"
#include "app/controls/spoken.h"
#include "app/light/light_page.h"
#include "app/session/stages.h"
#include "app/style/style.h"

namespace juvenor::app {

CourseThread::CourseThread() {
  setFixedHeight(46);
  setMinimumWidth(440);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Course"));
  const auto set = [this](double stage) {
    show(std::clamp<int>(static_cast<int>(stage), kPrepareStage, kFinishStage));
    emit chosen(stage_);
  };
  speak(this, {QAccessible::Slider, [this] { return stageName(stage_); }, [this] { return stage_; }, set,
               [] { return std::pair<double, double>(kPrepareStage, kFinishStage); }});
}

double CourseThread::apart() const {
  return (width() - 92) / static_cast<double>(kFinishStage - kPrepareStage);
}

QPointF CourseThread::bead(int stage) const {
  return {46 + (stage - kPrepareStage) * apart(), 15};
}

std::optional<int> CourseThread::stageAt(const QPointF& position) const {
  for (int i = kPrepareStage; i <= kFinishStage; ++i)
    if (std::abs(position.x() - bead(i).x()) < 0.45 * apart()) return i;
  return std::nullopt;
}

void CourseThread::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(QColor(0x8c, 0x8c, 0x8c), 2));
  p.drawLine(bead(kPrepareStage), bead(kFinishStage));
  for (int i = kPrepareStage; i <= kFinishStage; ++i) {
    const bool now = i == stage_;
    const QColor rim = now           ? look::kAccent
                       : i == hover_ ? QColor(0xff, 0xff, 0xff)
                                     : QColor(0xb4, 0xb4, 0xb4);
    p.setPen(QPen(rim, now ? 2.4 : 2));
    p.setBrush(i < stage_ ? QColor(0xd8, 0xd8, 0xd8) : look::kGround);
    p.drawEllipse(bead(i), now ? 9 : 6, now ? 9 : 6);
    if (now) {
      p.setPen(Qt::NoPen);
      p.setBrush(look::kAccent);
      p.drawEllipse(bead(i), 4, 4);
    }
    if (unmended_.contains(i)) {
      p.setPen(QPen(QColor(0xd8, 0xd8, 0xd8), 1.3));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(bead(i) + QPointF(11, -9), 2.6, 2.6);
    }
    QFont f = font();
    if (now) f.setWeight(QFont::DemiBold);
    p.setFont(fitted(f, stageName(i), static_cast<int>(apart()) - 4));
    p.setPen(now || i == hover_ ? QColor(0xff, 0xff, 0xff) : look::kQuiet);
    p.drawText(QRectF(bead(i).x() - 50, 28, 100, 16), Qt::AlignCenter, stageName(i));
  }
  if (hasFocus()) {
    p.setPen(QPen(look::kAccent, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(rect().adjusted(0, 0, -1, -1), 3, 3);
  }
}

void CourseThread::mousePressEvent(QMouseEvent* event) {
  const auto s = stageAt(event->position());
  if (!s) return;
  show(*s);
  emit chosen(*s);
}

void CourseThread::mouseMoveEvent(QMouseEvent* event) {
  hover_ = stageAt(event->position());
  update();
}

void CourseThread::show(int stage) {
  if (stage == stage_) return;
  stage_ = stage;
  update();
  tellValue(this);
}

void CourseThread::setUnmended(int stage, bool on) {
  if (on ? !unmended_.insert(stage).second : unmended_.erase(stage) == 0) return;
  update();
}

void CourseThread::leaveEvent(QEvent*) {
  hover_.reset();
  update();
}

void CourseThread::keyPressEvent(QKeyEvent* event) {
  const int step = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
  if (step == 0) return QWidget::keyPressEvent(event);
  show(std::clamp<int>(stage_ + step, kPrepareStage, kFinishStage));
  emit chosen(stage_);
}

bool CourseThread::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    if (const auto s = stageAt(help->pos())) {
      const QString open = unmended_.contains(*s) ? tr("\nSomething there could be mended.") : QString();
      QToolTip::showText(help->globalPos(), stageTip(*s) + open, this);
    }
    return true;
  }
  return QWidget::event(event);
}

LightDial::LightDial() {
  setFixedSize(30, 30);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Light dial"));
  setToolTip(tr("Turns the light around the sculpt; drag, or use the arrow keys"));
  const auto set = [this](double degrees) {
    show(static_cast<float>(degrees));
    emit turned(degrees_);
  };
  speak(this,
        {QAccessible::Dial, [this] { return tr("%1°").arg(std::lround(degrees_)); },
         [this] { return static_cast<double>(degrees_); }, set, [] { return std::pair(-180.0, 180.0); }});
}

void LightDial::show(float degrees) {
  degrees_ = degrees;
  update();
  tellValue(this);
}

void LightDial::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(hasFocus() ? look::kAccent : QColor(0x8c, 0x8c, 0x8c), 1.6));
  p.setBrush(look::kWell);
  p.drawEllipse(rect().adjusted(1, 1, -1, -1));
  const double a = static_cast<double>(degrees_) * M_PI / 180;
  p.setPen(Qt::NoPen);
  p.setBrush(Qt::white);
  p.drawEllipse(QPointF(15 + 9 * std::sin(a), 15 + 9 * std::cos(a)), 3.6, 3.6);
}

void LightDial::mousePressEvent(QMouseEvent* event) {
  const QPointF d = event->position() - QPointF(15, 15);
  show(static_cast<float>(std::atan2(d.x(), d.y()) * 180 / M_PI));
  emit turned(degrees_);
}

void LightDial::keyPressEvent(QKeyEvent* event) {
  const int step = event->key() == Qt::Key_Left ? -5 : event->key() == Qt::Key_Right ? 5 : 0;
  if (step == 0) return QWidget::keyPressEvent(event);
  show(degrees_ + static_cast<float>(step));
  emit turned(degrees_);
}

Course::Course(Session& session, Easel& easel) : session_(session), easel_(easel) {
  setFixedHeight(48);
  setAutoFillBackground(true);
  QPalette pal = palette();
  pal.setColor(QPalette::Window, QColor(0x40, 0x40, 0x40));
  setPalette(pal);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 0, 14, 0);
  row->setSpacing(12);
  auto* thread = thread_ = new CourseThread;
  row->addWidget(thread, 3);
  row->addStretch(1);
  auto* group = new QHBoxLayout;
  group->setSpacing(2);
  views_ = new QButtonGroup(this);
  struct Offered {
    View view;
    QString name, tip, key;
  };
  const Offered offered[] = {
      {View::Flat, tr("Flat"), tr("Colour alone, exactly as it is stored"), "1"},
      {View::Value, tr("Value"), tr("Luminance alone, to judge the big read"), "2"},
      {View::Channel, tr("Channel"), tr("Gloss, relief, metal or glow alone, or one layer alone"), "Shift+V"},
      {View::Clay, tr("Clay"), tr("Form alone, in grey clay"), "3"},
      {View::Skin, tr("Skin"), tr("Soft skin under the light"), "4"}};
  for (const Offered& o : offered) {
    auto* b = new QPushButton(o.name);
    b->setObjectName("view " + QString::fromUtf8(viewKey(o.view)));
    b->setCheckable(true);
    b->setFixedSize(o.view == View::Channel ? 62 : 52, 26);
    b->setToolTip(tr("%1 (%2)").arg(o.tip, o.key));
    bindKey(b, o.key);
    views_->addButton(b, static_cast<int>(o.view));
    group->addWidget(b);
  }
  views_->button(static_cast<int>(View::Skin))->setChecked(true);
  row->addLayout(group);
  auto* lines = new QPushButton(tr("Lines"));
  lines->setObjectName("lines");
  lines->setCheckable(true);
  lines->setFixedSize(52, 26);
  lines->setToolTip(tr("The sculpt's polygon edges over any view: where the form flows and bends (I)"));
  bindKey(lines, "I");
  row->addWidget(lines);
  connect(lines, &QPushButton::clicked, this, [this](bool on) { easel_.setLines(on); });
  auto* light = new QPushButton(nameOf(easel_.viewing().light));
  light->setObjectName("light");
  light->setFixedSize(104, 26);
  light->setToolTip(tr("Overcast, lamps or surroundings, and how bright the picture is (Shift+Y)"));
  bindKey(light, "Shift+Y");
  auto* page = new LightPage(session_, easel_);
  page->setParent(this, Qt::Popup);
  connect(light, &QPushButton::clicked, this, [light, page] {
    page->adjustSize();
    const QPoint corner = light->mapToGlobal(QPoint(light->width() - page->width(), light->height() + 4));
    page->move(corner);
    page->show();
  });
  auto* dial = new LightDial;
  row->addWidget(light);
  row->addWidget(dial);
  auto* follows = new QPushButton(tr("with view"));
  follows->setObjectName("light follows");
  follows->setCheckable(true);
  follows->setChecked(true);
  follows->setFixedSize(76, 26);
  follows->setToolTip(tr("The light goes with the view; off, it stands still in the scene (Y)"));
  bindKey(follows, "Y");
  row->addWidget(follows);
  connect(follows, &QPushButton::clicked, this, [this](bool on) { easel_.setLightFollows(on); });
  connect(views_, &QButtonGroup::idClicked, this, [this](int id) { easel_.setView(static_cast<View>(id)); });
  connect(&easel_, &Easel::viewingChanged, this, [this, dial, light, lines, follows] {
    light->setText(nameOf(easel_.viewing().light));
    lines->setChecked(easel_.viewing().lines);
    follows->setChecked(easel_.viewing().lightFollows);
    views_->button(static_cast<int>(easel_.viewing().view))->setChecked(true);
    dial->show(easel_.viewing().light.dial);
  });
  connect(dial, &LightDial::turned, this, [this](float degrees) {
    Light l = easel_.viewing().light;
    l.dial = degrees;
    easel_.setLight(l);
  });
  connect(thread, &CourseThread::chosen, this, &Course::goTo);
  connect(&session_.tools(), &Tools::changed, thread,
          [this, thread] { thread->show(session_.tools().stage()); });
}

void Course::goTo(int stage) {
  enterStage(session_, stage);
  if (stage == kFinishStage) easel_.setView(View::Value);
}

}  // namespace juvenor::app

#include "moc_course.cpp"
