// A made-up language whose words are longer than English ones: every word of the window goes through
// translation, and none is cut off.
#include <QAbstractButton>
#include <QCheckBox>
#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QMenuBar>
#include <QRadioButton>
#include <QRegularExpression>
#include <QStyleOption>
#include <QTableWidget>
#include <QTranslator>

#include "app/style/style.h"
#include "app/window/key_map.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

// "Airbrush" is "[Airbrushey]".
class LongWords : public QTranslator {
 public:
  QString translate(const char*, const char* source, const char*, int) const override {
    QString text = QString::fromUtf8(source);
    if (!text.contains(QRegularExpression("[A-Za-z]{2}"))) return text;
    // (before the keys of a tip and the first line break, so that both stay what they are)
    return "[" + text +
           QString("eyaeyaeyaeya").left(std::clamp<int>(static_cast<int>(text.size()) / 4, 1, 12)) + "]";
  }
  bool isEmpty() const override { return false; }
};

// Names given by the artist, keys, and what is no word.
bool isNoWord(const QString& text) {
  static const QRegularExpression letters("[A-Za-z]{3}"), hex("^#?[0-9a-f]{6}$"),
      key("^((Ctrl|Shift|Alt)\\+)*([A-Z0-9]|Home|End|Insert|F[0-9]+|[←→↑↓ ]+)$");
  return !letters.match(text).hasMatch() || text.contains("Zz") || hex.match(text).hasMatch() ||
         key.match(text).hasMatch();
}

class Listener {
 public:
  QStringList missed, cut;
  int heard = 0;

  void hear(const QString& where, const QString& text) {
    if (isNoWord(text)) return;
    ++heard;
    if (!text.contains('[')) missed << where + ": " + text;
  }
  // (words longer than their room are set narrower, to a limit)
  void fits(const QString& where, const QWidget* widget, const QString& text, int room) {
    if (isNoWord(text)) return;
    const QFont font = fitted(widget->font(), text, room);
    const int needed = QFontMetrics(font).size(Qt::TextSingleLine | Qt::TextShowMnemonic, text).width();
    if (needed > room) cut << QString("%1: %2 (%3 of %4)").arg(where, text).arg(room).arg(needed);
  }
  static int insideOf(const QWidget& button) {
    QStyleOptionButton option;
    option.initFrom(&button);
    return button.style()->subElementRect(QStyle::SE_PushButtonContents, &option, &button).width();
  }
  void listen(const QWidget& window) {
    for (const QWidget* w : window.findChildren<QWidget*>()) {
      if (!w->isVisible()) continue;
      // sentences of the core come with their numbers in them, as it wrote them
      if (w->objectName() == "layer note") continue;
      const QString where = QString(w->metaObject()->className()) + " " + w->objectName();
      hear(where + " tip", w->toolTip());
      hear(where + " name", w->accessibleName());
      if (const auto* label = qobject_cast<const QLabel*>(w)) {
        hear(where, label->text());
        if (!label->wordWrap() && !label->text().contains('\n'))
          fits(where, w, label->text(), w->contentsRect().width());
      }
      if (const auto* button = qobject_cast<const QAbstractButton*>(w)) {
        hear(where, button->text());
        const bool ticked = qobject_cast<const QCheckBox*>(w) || qobject_cast<const QRadioButton*>(w);
        const auto* tool = qobject_cast<const QToolButton*>(w);
        if (!tool || tool->toolButtonStyle() != Qt::ToolButtonIconOnly)
          fits(where, w, button->text(), ticked || tool ? w->width() - (ticked ? 20 : 4) : insideOf(*w));
      }
      if (const auto* combo = qobject_cast<const QComboBox*>(w))
        for (int i = 0; i < combo->count(); ++i) hear(where, combo->itemText(i));
      if (const auto* table = qobject_cast<const QTableWidget*>(w))
        for (int c = 0; c < table->columnCount(); ++c)
          if (const auto* head = table->horizontalHeaderItem(c)) hear(where, head->text());
    }
  }
};

}  // namespace

class TestOtherLanguage : public QObject {
  Q_OBJECT
 private slots:
  void everyWordIsTranslatedAndFits() {
    LongWords longer;
    QCoreApplication::installTranslator(&longer);
    Listener ear;
    {
      Sculpt sculpt = test::sphere(40, 10);
      sculpt.parts = {"Zzhead"};
      test::DrivenWindow w(sculpt);
      w.window.resize(1280, 800);
      for (const QAction* menu : w.window.menuBar()->actions()) {
        ear.hear("menu", menu->text());
        for (const QAction* a : menu->menu()->actions())
          if (!a->isSeparator() && !a->menu()) ear.hear("menu " + menu->text(), a->text());
      }
      for (const SourceKind* kind : sourceKinds())
        w.session().apply(withSourceLayer(w.document(), "Zz " + std::string(kind->label), kind->stratum,
                                          kind->fresh(*w.document().surface, {0.5f, 0.4f, 0.3f})),
                          "Zz");
      w.settle();
      for (int stage = 0; stage < 6; ++stage) {
        w.session().tools().setStage(stage);
        w.window.side().show(SideColumn::Page::Stage);
        w.settle();
        ear.listen(w.window);
      }
      w.session().tools().setStage(kFinishStage);
      for (const auto page :
           {FinishPages::Page::Maps, FinishPages::Page::StepBack, FinishPages::Page::Show}) {
        w.window.side().stage().finish().goTo(page);
        w.settle();
        ear.listen(w.window);
      }
      for (FootStrip* strip : {&w.window.cameras(), &w.window.variants()}) {
        strip->show();
        w.settle();
        ear.listen(w.window);
        strip->hide();
      }
      for (const auto page : {SideColumn::Page::Board, SideColumn::Page::Parts, SideColumn::Page::Past}) {
        w.window.side().show(page);
        w.settle();
        ear.listen(w.window);
      }
      w.window.side().show(SideColumn::Page::Layer);
      for (const LayerPointer& layer : w.document().layers) {
        w.session().chooseLayer(layer->id);
        w.settle();
        ear.listen(w.window);
      }
      for (int tool = 0; tool < kToolCount; ++tool) {
        w.session().tools().setTool(static_cast<Tool>(tool));
        w.settle();
        ear.listen(w.window);
      }
      KeyMap keys(nullptr);
      keys.show();
      ear.listen(keys);
    }
    QCoreApplication::removeTranslator(&longer);
    QVERIFY2(ear.heard > 1000, qPrintable(QString::number(ear.heard)));
    ear.missed.removeDuplicates();
    ear.cut.removeDuplicates();
    for (const QString& one : ear.missed) qWarning("not translated: %s", qPrintable(one));
    for (const QString& one : ear.cut) qWarning("cut off: %s", qPrintable(one));
    QCOMPARE(ear.missed.size(), 0);
    QCOMPARE(ear.cut.size(), 0);
  }
  // Words that need more room than they have are all there, set narrower: their last letter is drawn.
  void longWordsAreSetNarrower() {
    const auto drawn = [](const QString& text, int width) {
      QPushButton button(text);
      button.setStyleSheet("padding: 0; border: none; background: black; color: white;");
      button.setFixedSize(width, 26);
      return button.grab().toImage();
    };
    const auto inkAt = [](const QImage& image, int from, int to) {
      int ink = 0;
      for (int y = 0; y < image.height(); ++y)
        for (int x = from; x < to; ++x) ink += qGray(image.pixel(x, y)) > 90;
      return ink;
    };
    const int needed = QFontMetrics(QApplication::font()).horizontalAdvance("Farbwechselndes");
    const int room = static_cast<int>(0.7 * needed);
    const QImage narrow = drawn("Farbwechselndes", room), without = drawn("Farbwechselnde", room);
    QVERIFY(inkAt(narrow, 0, 4) > 0 && inkAt(narrow, room - 5, room) > 0);
    // cut off on both sides, neither of them would have another first and last letter
    QVERIFY(narrow != without);
    // what fits is set as ever
    QCOMPARE(fitted(QApplication::font(), "Flat", 200), QApplication::font());
  }
};

JUVENOR_TEST(TestOtherLanguage)
}  // namespace juvenor::app
#include "test_other_language.moc"
