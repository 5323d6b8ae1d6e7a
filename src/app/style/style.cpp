#include "app/style/style.h"

#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QDrag>
#include <QFile>
#include <QFontDatabase>
#include <QMimeData>
#include <QPainter>
#include <QPalette>
#include <QProxyStyle>
#include <QStyleFactory>
#include <QStyleOption>
#include <QSvgRenderer>
#include <cmath>
#include <map>

namespace juvenor::app {
namespace {

// The usual style, with icons of ours where the desktop may have none that can be seen on grey.
class Style : public QProxyStyle {
 public:
  Style() : QProxyStyle(QStyleFactory::create("Fusion")) {}

  QIcon standardIcon(StandardPixmap which, const QStyleOption* option, const QWidget* widget) const override {
    static const std::map<StandardPixmap, const char*> ours{{SP_ArrowBack, "dialog-back"},
                                                            {SP_FileDialogBack, "dialog-back"},
                                                            {SP_ArrowForward, "dialog-forward"},
                                                            {SP_FileDialogToParent, "dialog-parent"},
                                                            {SP_FileDialogNewFolder, "dialog-new-folder"},
                                                            {SP_FileDialogListView, "dialog-list"},
                                                            {SP_FileDialogDetailedView, "dialog-details"},
                                                            {SP_DirIcon, "dialog-folder"},
                                                            {SP_DirOpenIcon, "dialog-folder"},
                                                            {SP_DirClosedIcon, "dialog-folder"},
                                                            {SP_DirLinkIcon, "dialog-folder"},
                                                            {SP_DirHomeIcon, "dialog-folder"},
                                                            {SP_DesktopIcon, "dialog-folder"},
                                                            {SP_ComputerIcon, "dialog-computer"},
                                                            {SP_DriveHDIcon, "dialog-computer"},
                                                            {SP_FileIcon, "dialog-file"},
                                                            {SP_MessageBoxWarning, "notice"},
                                                            {SP_MessageBoxCritical, "notice"},
                                                            {SP_MessageBoxInformation, "notice"},
                                                            {SP_MessageBoxQuestion, "question"}};
    const auto found = ours.find(which);
    return found == ours.end() ? QProxyStyle::standardIcon(which, option, widget) : icon(found->second);
  }
  // words of a language longer than the room they have are set narrower, not cut off
  void drawItemText(QPainter* painter, const QRect& rect, int flags, const QPalette& palette, bool enabled,
                    const QString& text, QPalette::ColorRole role) const override {
    const QFont usual = painter->font();
    if (!(flags & Qt::TextWordWrap) && !text.contains('\n'))
      painter->setFont(app::fitted(usual, text, rect.width()));
    QProxyStyle::drawItemText(painter, rect, flags, palette, enabled, text, role);
    painter->setFont(usual);
  }
  void drawControl(ControlElement element, const QStyleOption* option, QPainter* painter,
                   const QWidget* widget) const override {
    const auto* button = qstyleoption_cast<const QStyleOptionToolButton*>(option);
    if (element != CE_ToolButtonLabel || !button || button->toolButtonStyle == Qt::ToolButtonTextBesideIcon)
      return QProxyStyle::drawControl(element, option, painter, widget);
    QStyleOptionToolButton narrower = *button;
    narrower.font = app::fitted(button->font, button->text, button->rect.width() - 4);
    narrower.fontMetrics = QFontMetrics(narrower.font);
    QProxyStyle::drawControl(element, &narrower, painter, widget);
  }
  // what shows a picture alone is read out by its tip
  using QProxyStyle::polish;
  void polish(QWidget* widget) override {
    QProxyStyle::polish(widget);
    const auto* button = qobject_cast<QAbstractButton*>(widget);
    const bool silent = button ? button->text().isEmpty() : qobject_cast<QComboBox*>(widget) != nullptr;
    if (silent && widget->accessibleName().isEmpty()) widget->setAccessibleName(widget->toolTip());
  }
  int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                QStyleHintReturn* data) const override {
    // coloured icons have no place beside skin
    return hint == SH_DialogButtonBox_ButtonsHaveIcons ? 0
                                                       : QProxyStyle::styleHint(hint, option, widget, data);
  }
};

}  // namespace

QFont fitted(QFont font, const QString& words, int room) {
  constexpr double kNarrowest = 0.8, kSmallest = 0.7;
  const auto wide = [&] {
    return QFontMetrics(font).size(Qt::TextSingleLine | Qt::TextShowMnemonic, words).width();
  };
  const int needed = wide();
  if (needed <= room || room <= 0) return font;
  const double part = static_cast<double>(room) / needed;
  font.setStretch(static_cast<int>(100 * std::max(kNarrowest, part)));
  if (font.pixelSize() <= 0) font.setPixelSize(QFontInfo(font).pixelSize());
  const int smallest = static_cast<int>(std::ceil(kSmallest * font.pixelSize()));
  while (wide() > room && font.pixelSize() > smallest) font.setPixelSize(font.pixelSize() - 1);
  return font;
}

void applyStyle(QApplication& application) {
  application.setStyle(new Style);
  for (const char* file :
       {":/fonts/Inter-Regular.otf", ":/fonts/Inter-Medium.otf", ":/fonts/Inter-SemiBold.otf"})
    QFontDatabase::addApplicationFont(file);
  QFont font("Inter");
  font.setPixelSize(12);
  application.setFont(font);
  QPalette p;
  p.setColor(QPalette::Window, look::kPanel);
  p.setColor(QPalette::WindowText, look::kText);
  p.setColor(QPalette::Base, look::kWell);
  p.setColor(QPalette::AlternateBase, look::kPanel);
  p.setColor(QPalette::Text, look::kText);
  p.setColor(QPalette::Button, look::kRaised);
  p.setColor(QPalette::ButtonText, look::kText);
  p.setColor(QPalette::Highlight, look::kSelected);
  p.setColor(QPalette::HighlightedText, look::kText);
  p.setColor(QPalette::ToolTipBase, look::kWell);
  p.setColor(QPalette::ToolTipText, look::kText);
  p.setColor(QPalette::PlaceholderText, look::kQuiet);
  for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
    p.setColor(QPalette::Disabled, role, QColor(0x8c, 0x8c, 0x8c));
  application.setPalette(p);
  QFile sheet(":/style.qss");
  if (sheet.open(QIODevice::ReadOnly)) application.setStyleSheet(QString::fromUtf8(sheet.readAll()));
}

QIcon icon(const QString& name) {
  QIcon out;
  QSvgRenderer renderer(":/icons/" + name + ".svg");
  for (const int size : {20, 40}) {
    QPixmap pixmap(size, size);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    renderer.render(&painter);
    painter.end();
    pixmap.setDevicePixelRatio(size / 20.0);
    out.addPixmap(pixmap);
  }
  return out;
}

QColor toQColor(const EncodedColor& c) {
  return QColor::fromRgbF(std::clamp(c.r, 0.f, 1.f), std::clamp(c.g, 0.f, 1.f), std::clamp(c.b, 0.f, 1.f));
}

EncodedColor fromQColor(const QColor& c) {
  return {static_cast<float>(c.redF()), static_cast<float>(c.greenF()), static_cast<float>(c.blueF())};
}

void dragColor(QWidget* from, const EncodedColor& color) {
  auto* drag = new QDrag(from);
  auto* data = new QMimeData;
  data->setColorData(toQColor(color));
  data->setText(QString::fromStdString(toHex(color)));
  drag->setMimeData(data);
  QPixmap swatch(22, 22);
  swatch.fill(toQColor(color));
  drag->setPixmap(swatch);
  drag->exec(Qt::CopyAction);
}

QString shortCount(size_t count) {
  const auto n = static_cast<double>(count);
  if (n >= 999'500) return QString("%1 M").arg(n / 1e6, 0, 'f', 2);
  if (n >= 10'000) return QString("%1 k").arg(n / 1e3, 0, 'f', 0);
  return QString::number(count);
}

QString shortLength(float units, float millimetres) {
  const float length = units * millimetres;
  if (length >= 1000) return QString("%1 m").arg(static_cast<double>(length) / 1000, 0, 'f', 2);
  const int digits = length >= 100 ? 0 : length >= 10 ? 1 : 2;
  return QString("%1 mm").arg(static_cast<double>(length), 0, length < 0.1f ? 'g' : 'f',
                              length < 0.1f ? 2 : digits);
}

}  // namespace juvenor::app
