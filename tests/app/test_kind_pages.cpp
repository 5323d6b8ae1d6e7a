// Every number of every kind has its slider on the kind's page, with the name and the ends its table says.
#include "app/controls/value_slider.h"
#include "app/layer_card/layer_card.h"
#include "app/layer_card/settings_page.h"
#include "driven_window.h"

namespace juvenor::app {

class TestKindPages : public QObject {
  Q_OBJECT
 private slots:
  void everyNumberHasItsSlider() {
    test::DrivenWindow w(test::sphere(24, 50));
    auto* card = w.window.findChild<LayerCard*>();
    QVERIFY(card);
    size_t sliders = 0;
    for (const SourceKind* kind : sourceKinds()) {
      if (!kind->members) continue;
      const Document& d = w.session().document();
      w.session().apply(withSourceLayer(d, std::string(kind->label), kind->stratum,
                                        kind->fresh(*d.surface, {0.5f, 0.4f, 0.3f})),
                        "Add");
      // what shows only with other settings is there all the same
      const auto all = card->findChildren<ValueSlider*>();
      for (const MemberFacts& m : kind->members()) {
        const QString label = told(m.label);
        const auto found = std::ranges::find_if(all, [&](const ValueSlider* s) {
          if (s->accessibleName() != label || s->toolTip() != told(m.does)) return false;
          for (QWidget* p = s->parentWidget(); p && p != card; p = p->parentWidget())
            if (qobject_cast<SettingsPage*>(p) && p->isHidden()) return false;
          return true;
        });
        QVERIFY2(found != all.end(), qPrintable(told(kind->label) + ": " + label));
        ++sliders;
      }
    }
    QVERIFY(sliders > 70);
  }
};

JUVENOR_TEST(TestKindPages)
}  // namespace juvenor::app
#include "test_kind_pages.moc"
