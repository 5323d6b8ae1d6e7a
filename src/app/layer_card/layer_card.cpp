#include "app/layer_card/layer_card.h"

#include <QButtonGroup>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/controls/scrolled.h"
#include "app/layer_card/adjust_page.h"
#include "app/layer_card/bands_page.h"
#include "app/layer_card/eyes_page.h"
#include "app/layer_card/filter_page.h"
#include "app/layer_card/fine_skin_page.h"
#include "app/layer_card/hair_page.h"
#include "app/layer_card/marking_page.h"
#include "app/layer_card/ramp_bar.h"
#include "app/layer_card/scales_page.h"
#include "app/layer_card/spots_page.h"
#include "app/layer_card/step_editor.h"
#include "app/layer_card/strengths.h"
#include "app/layer_card/term_editor.h"
#include "app/layer_card/throw_page.h"
#include "app/layer_card/zone_editor.h"
#include "app/session/words.h"
#include "app/style/style.h"
#include "core/layers/sources/ramp.h"

namespace juvenor::app {
LayerCard::LayerCard(Session& session, Easel& easel) : session_(session), easel_(easel), layer_(session) {
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(0, 0, 0, 0);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(12, 6, 10, 8);
  column->setSpacing(6);
  name_ = new QLabel;
  name_->setProperty("title", true);
  kind_ = quietLabel({});
  column->addWidget(name_);
  column->addWidget(kind_);
  note_ = quietLabel({});
  note_->setObjectName("layer note");
  column->addWidget(note_);
  buildSourcePages(column);
  strengths_ = new Strengths(session_);
  column->addWidget(strengths_);
  column->addWidget(buildMaps());
  column->addWidget(buildPainted());
  steps_ = new StepEditor(session_);
  column->addWidget(steps_);
  column->addStretch();
  inside->setMaximumWidth(206);
  outer->addWidget(scrolled(inside));
  connect(ramp_, &RampPage::sliding, this, [this] { layer_.preview(withTerms()); });
  connect(ramp_, &RampPage::changed, this, &LayerCard::keepTerms);
  // what is measured of other work is waited for no more; layers there bear the same numbers
  connect(&session_, &Session::opened, this, [this] { measuredFor_.reset(); });
  connect(&session_, &Session::documentChanged, this, &LayerCard::refresh);
  connect(&session_.engine(), &Engine::troubled, this,
          [this](const QMap<uint32_t, QString>& troubles, const QMap<uint32_t, QString>& notes) {
            notes_ = notes;
            for (auto it = troubles.begin(); it != troubles.end(); ++it)
              notes_[it.key()] = tr("Not shown: %1").arg(it.value());
            showNote();
          });
  connect(&session_.tools(), &Tools::changed, this,
          [this] { shown_->setChecked(session_.tools().masksShown()); });
}

// A kind of layer with settings of its own has its page here.
void LayerCard::buildSourcePages(QVBoxLayout* column) {
  ramp_ = new RampPage(session_);
  auto* fill = new FillEditor(session_);
  auto* zones = new ZoneEditor(session_);
  sourcePages_ = {{{"fill"}, fill, [fill](const Layer& l) { fill->show(l); }},
                  {{"ramp"}, ramp_, [this](const Layer& l) {
                     if (const auto content = rampContent(*l.source)) ramp_->show(*content);
                   }}};
  for (const std::string_view key : {"speckle", "mottle", "veins"}) {
    auto* page = new MarkingPage(session_, *sourceKind(key));
    sourcePages_.push_back({{key}, page, [page](const Layer& l) { page->show(l); }});
  }
  auto* eyes = new EyesPage(session_);
  sourcePages_.push_back({{"eyes"}, eyes, [eyes](const Layer& l) { eyes->show(l); }});
  auto* scales = new ScalesPage(session_);
  auto* bands = new BandsPage(session_);
  sourcePages_.push_back({{"bands"}, bands, [bands](const Layer& l) { bands->show(l); }});
  auto* hair = new HairPage(session_);
  sourcePages_.push_back({{"hair"}, hair, [hair](const Layer& l) { hair->show(l); }});
  auto* adjust = new AdjustPage(session_);
  sourcePages_.push_back({{"adjust"}, adjust, [adjust](const Layer& l) { adjust->show(l); }});
  auto* filter = new FilterPage(session_);
  sourcePages_.push_back({{"filter"}, filter, [filter](const Layer& l) { filter->show(l); }});
  auto* thrown = new ThrowPage(session_);
  sourcePages_.push_back({{"slide"}, thrown, [thrown](const Layer& l) { thrown->show(l); }});
  auto* fine = new FineSkinPage(session_);
  sourcePages_.push_back({{"fineskin"}, fine, [fine](const Layer& l) { fine->show(l); }});
  auto* spots = new SpotsPage(session_);
  sourcePages_.push_back({{"spots"}, spots, [spots](const Layer& l) { spots->show(l); }});
  sourcePages_.push_back({{"scales"}, scales, [scales](const Layer& l) { scales->show(l); }});
  sourcePages_.push_back({{}, zones, [zones](const Layer&) { zones->refresh(); }});
  for (const SourceKind* kind : sourceKinds())
    if (kind->areas) sourcePages_.back().kinds.push_back(kind->key);
  for (const SourcePage& page : sourcePages_) column->addWidget(page.widget);
}

QWidget* LayerCard::buildMaps() {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 4, 0, 0);
  column->setSpacing(4);
  auto* head = new QHBoxLayout;
  head->setSpacing(2);
  mapsTitle_ = quietLabel({});
  mapsTitle_->setWordWrap(false);
  column->addWidget(mapsTitle_);
  auto* which = new QHBoxLayout;
  which->setSpacing(2);
  termsOf_ = new QButtonGroup(this);
  const QStringList of{tr("its own"), tr("mask")};
  const QStringList says{tr("Maps the kind itself looks at"), tr("Maps that say where the layer shows")};
  for (int i = 0; i < 2; ++i) {
    auto* b = new QPushButton(of[i]);
    b->setObjectName(i == 0 ? "maps of kind" : "maps of mask");
    b->setCheckable(true);
    b->setStyleSheet("padding: 1px 5px; font-size: 11px;");
    b->setToolTip(says[i]);
    termsOf_->addButton(b, i);
    which->addWidget(b, 1);
  }
  termsOf_->button(0)->setChecked(true);
  connect(termsOf_, &QButtonGroup::idClicked, this, &LayerCard::refresh);
  column->addLayout(which);
  head->addWidget(quietLabel(tr("See")));
  looks_ = new QButtonGroup(this);
  const QStringList names{tr("skin"), tr("grey"), tr("colour")};
  const QStringList tips{tr("Shows the skin"), tr("Shows the map as brightness"),
                         tr("Shows the map in false colour")};
  for (int i = 0; i < 3; ++i) {
    auto* b = new QPushButton(names[i]);
    b->setCheckable(true);
    b->setStyleSheet("padding: 1px 5px; font-size: 11px;");
    b->setToolTip(tips[i]);
    looks_->addButton(b, i);
    head->addWidget(b, 1);
  }
  looks_->button(0)->setChecked(true);
  column->addLayout(head);
  terms_ = new TermEditor;
  terms_->setObjectName("terms");
  column->addWidget(terms_);
  connect(looks_, &QButtonGroup::idClicked, this, &LayerCard::lookAtMap);
  connect(terms_, &TermEditor::changed, this, &LayerCard::keepTerms);
  connect(&easel_, &Easel::viewingChanged, this, [this] {
    const Viewing& v = easel_.viewing();
    terms_->setViewer(v.camera.back());
    looks_->button(!v.map ? 0 : v.mapLook == OverlayLook::Grey ? 1 : 2)->setChecked(true);
  });
  connect(terms_, &TermEditor::sliding, this, [this] {
    // only what is there already can be shown while a slider moves
    if (!isMaskReady(*session_.document().maps, terms_->terms())) return;
    if (looks_->checkedId() > 0) return lookAtMap();
    layer_.preview(withTerms());
  });
  return box;
}

QWidget* LayerCard::buildPainted() {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 6, 0, 0);
  column->setSpacing(4);
  column->addWidget(quietLabel(tr("Painted mask")));
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  maskButton_ = new QPushButton(tr("Mask …"));
  maskButton_->setObjectName("mask menu");
  maskButton_->setToolTip(
      tr("Makes a mask from parts, colours, brightness or maps; inverts, melts, grows it"));
  shown_ = new QPushButton(tr("Show"));
  shown_->setObjectName("show masks");
  shown_->setCheckable(true);
  shown_->setChecked(true);
  shown_->setToolTip(tr("Stripes what is hidden, while Mask or Guard is in hand; it works either way (H)"));
  row->addWidget(maskButton_, 1);
  row->addWidget(shown_);
  column->addLayout(row);
  connect(maskButton_, &QPushButton::clicked, this, &LayerCard::maskMenu);
  connect(shown_, &QPushButton::clicked, this, [this](bool on) { session_.tools().setMasksShown(on); });
  return box;
}

LayerPointer LayerCard::layer() const {
  return session_.isOpen() ? layerOf(session_.document(), session_.document().activeLayer) : nullptr;
}

const MaskTerms* LayerCard::ownTerms(const Layer& layer) const {
  const MaskTerms* own = layer.source->terms();
  return own && (rampContent(*layer.source) || termsOf_->checkedId() == 0) ? own : nullptr;
}

// The layer with the terms and stops as they are shown, on its ramp or on its mask.
ShownLayer::Edit LayerCard::withTerms() const {
  return [terms = terms_->terms(), stops = ramp_->stops(), channels = ramp_->channels(),
          own = layer() && ownTerms(*layer())](const Document& d, const Layer& l) -> Result<Document> {
    if (rampContent(*l.source)) {
      if (terms.empty()) return Error{tr("A ramp needs one map at least.").toStdString()};
      return withSource(d, l.id, rampSource(terms, stops, channels));
    }
    if (own) return withSource(d, l.id, l.source->withTerms(terms));
    return withMaskTerms(d, l.id, terms);
  };
}

// What is set now, of the layer that is shown now: by the time it is measured the page may show something
// else.
void LayerCard::keepTerms() {
  const LayerPointer before = layer();
  if (!before) return;
  const QString step = !ownTerms(*before)             ? tr("Mask from maps")
                       : rampContent(*before->source) ? tr("Change ramp")
                                                      : tr("Change maps of the layer");
  measuredFor_ = before->id;
  const auto over = [this, id = before->id] {
    if (measuredFor_ == id) measuredFor_.reset();
  };
  session_.measured(
      QString("maps of %1").arg(before->id), terms_->terms(),
      [this, over, step, target = layer_, edit = withTerms()] {
        over();
        session_.settleStrokes();
        target.keep(step, edit);
        if (target.id() == layer_.id()) lookAtMap();
      },
      [this, over] {
        over();
        refresh();
      });
}

void LayerCard::lookAtMap() {
  const int look = looks_->checkedId();
  const MaskTerm* term = terms_->term();
  if (look <= 0 || !term) {
    if (look > 0) looks_->button(0)->setChecked(true);
    return easel_.setMap(std::nullopt);
  }
  const MaskTerm shown = *term;
  session_.measured("look at a map", {shown}, [this, shown, look] {
    easel_.setMap(shown, look == 1 ? OverlayLook::Grey : OverlayLook::FalseColor);
  });
}

void LayerCard::refresh() {
  const LayerPointer l = layer();
  setEnabled(l != nullptr);
  if (!l) return name_->setText(tr("No layer"));
  layer_.set(*l);
  name_->setText(QString::fromStdString(l->name));
  // what was set and is being measured stays on the page
  const bool measured = measuredFor_ == l->id;
  const std::string_view kind = l->source->kind().key;
  const std::string remark = l->source->remark();
  kind_->setText(told(l->source->kind().label).toLower() +
                 (remark.empty() ? QString() : " · " + QString::fromStdString(remark)));
  showNote();
  for (const SourcePage& page : sourcePages_) {
    const bool fits = std::ranges::find(page.kinds, kind) != page.kinds.end();
    page.widget->setVisible(fits);
    if (fits && !measured) page.show(*l);
  }
  strengths_->show(*l);
  steps_->show(*l);
  const MaskTerms* own = ownTerms(*l);
  const bool either = l->source->terms() && !rampContent(*l->source);
  for (QAbstractButton* b : termsOf_->buttons()) b->setVisible(either);
  mapsTitle_->setText(own ? told(l->source->kind().maps) : tr("Mask from maps"));
  if (measured) return;
  terms_->show(own ? *own : l->terms, session_.document().surface->bounds.diagonal(),
               session_.document().placement.millimetres);
}

void LayerCard::showNote() {
  const QString text = session_.isOpen() ? notes_.value(session_.document().activeLayer) : QString();
  note_->setVisible(!text.isEmpty());
  note_->setText(text);
}

void LayerCard::askAmount(const QString& title, const QString& label, double usual,
                          const std::function<Result<Document>(const Document&, float)>& edit,
                          const QString& step) {
  bool ok = false;
  const double unit = static_cast<double>(session_.document().placement.millimetres),
               most = unit * static_cast<double>(session_.document().surface->bounds.diagonal());
  const double amount = QInputDialog::getDouble(this, title, label, unit * usual, 0.001, most, 2, &ok) / unit;
  if (!ok) return;
  session_.edit(step,
                [&](const Document& d, const Progress&) { return edit(d, static_cast<float>(amount)); });
}

void LayerCard::maskMenu() {
  const LayerPointer l = layer();
  if (!l) return;
  const bool onGuard = session_.tools().tool() == Tool::Guard;
  const uint32_t id = onGuard ? kGuard : l->id;
  const Document& d = session_.document();
  const bool there = static_cast<bool>(maskFieldOf(d, id));
  QMenu menu;
  menu.addSection(onGuard ? tr("Guard of the document")
                          : tr("Mask of “%1”").arg(QString::fromStdString(l->name)));
  const auto act = [&](const QString& text, const QString& step, auto edit, bool enabled = true) {
    menu.addAction(text, this,
                   [this, step, edit, id] {
                     session_.edit(step, [&](const Document& x, const Progress&) { return edit(x, id); });
                   })
        ->setEnabled(enabled);
  };
  act(there ? tr("Clear: show everything") : tr("Add, showing everything"), tr("Clear mask"),
      [](const Document& x, uint32_t i) { return withMaskField(x, i, openMask(x.surface->size())); });
  act(there ? tr("Hide everything") : tr("Add, hiding everything"), tr("Hide everything"),
      [](const Document& x, uint32_t i) { return withMaskField(x, i, closedMask(x.surface->size())); });
  act(tr("From the active part"), tr("Mask from part"),
      [this](const Document& x, uint32_t i) { return withMaskFromParts(x, i, {session_.activePart()}); });
  menu.addAction(tr("From a colour range …"), this, [this, id] {
    ColorRange range;
    if (!askColorRange(this, session_, id, range)) return session_.endPreview();
    session_.edit(tr("Mask from colours"), [&](const Document& x, const Progress&) {
      return withMaskFromColors(x, id, range.colors, range.tolerance, range.fade);
    });
  });
  menu.addAction(tr("From brightness …"), this, [this, id] {
    MaskTerm range;
    if (!askBrightness(this, session_, id, range)) return session_.endPreview();
    session_.edit(tr("Mask from brightness"),
                  [&](const Document& x, const Progress&) { return withMaskFromBrightness(x, id, range); });
  });
  if (!l->terms.empty())
    act(tr("From its maps, laid down"), tr("Mask from maps"),
        [terms = l->terms](const Document& x, uint32_t i) { return withMaskFromMaps(x, i, terms); });
  menu.addSeparator();
  act(
      tr("Invert"), tr("Invert mask"), [](const Document& x, uint32_t i) { return withInvertedMask(x, i); },
      there);
  const double spacing = static_cast<double>(d.surface->spacing);
  const auto amount = [&](const QString& text, const QString& label, double usual, auto edit) {
    menu.addAction(text + " …", this,
                   [this, text, label, usual, edit, id] {
                     askAmount(
                         text, label, usual,
                         [edit, id](const Document& x, float v) { return edit(x, id, v); }, text);
                   })
        ->setEnabled(there);
  };
  amount(tr("Melt mask"), tr("Along the skin, mm:"), 6 * spacing,
         [](const Document& x, uint32_t i, float v) { return withMeltedMask(x, i, v); });
  amount(tr("Grow mask"), tr("Along the skin, mm:"), 4 * spacing,
         [](const Document& x, uint32_t i, float v) { return withGrownMask(x, i, v); });
  amount(tr("Shrink mask"), tr("Along the skin, mm:"), 4 * spacing,
         [](const Document& x, uint32_t i, float v) { return withGrownMask(x, i, -v); });
  menu.addSeparator();
  act(
      tr("Remove"), tr("Remove mask"), [](const Document& x, uint32_t i) { return withoutMask(x, i); },
      there);
  if (!onGuard && l->source->painted()) {
    menu.addSeparator();
    fillThroughMenu(*menu.addMenu(tr("Fill the paint through")), id);
  }
  menu.exec(maskButton_->mapToGlobal(QPoint(0, maskButton_->height())));
}

void LayerCard::fillThroughMenu(QMenu& menu, uint32_t id) {
  const Document& d = session_.document();
  for (size_t i = d.layers.size(); i-- > 0;) {
    const Layer& masked = *d.layers[i];
    if (!masked.mask && masked.terms.empty()) continue;
    const QString name = QString::fromStdString(masked.name);
    menu.addAction(tr("the mask of “%1”").arg(name), this, [this, id, through = masked.id, name] {
      const EncodedColor color = session_.tools().color();
      const float strength = session_.tools().fillStrength();
      session_.edit(tr("Fill through the mask of %1").arg(name), [=](const Document& x, const Progress&) {
        return withFilledThrough(x, id, color, strength, through);
      });
    });
  }
  // a menu that cannot be entered tells what is missing
  if (menu.isEmpty()) menu.addAction(tr("no layer has a mask yet"))->setEnabled(false);
}

}  // namespace juvenor::app

#include "moc_layer_card.cpp"
