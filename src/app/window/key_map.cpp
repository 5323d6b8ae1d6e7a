#include "app/window/key_map.h"

#include <QGridLayout>
#include <QLabel>

#include "app/controls/labels.h"
#include "app/session/tools.h"
#include "app/session/words.h"

namespace juvenor::app {

KeyMap::KeyMap(QWidget* parent) : QDialog(parent) {
  setWindowTitle(tr("Key map"));
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(24, 20, 24, 20);
  grid->setHorizontalSpacing(28);
  grid->setVerticalSpacing(6);
  using Rows = QList<std::pair<QString, QString>>;
  Rows tools;
  for (int i = 0; i < kToolCount; ++i) {
    const ToolFacts& f = factsOf(static_cast<Tool>(i));
    tools.append({f.key, told(f.label)});
  }
  tools.append({tr("P held"), tr("Pick with any tool")});
  tools.append({tr("0, 0 held"), tr("Second colour, for a while")});
  const QList<std::pair<QString, Rows>> columns{{tr("Tools"), tools},
                                                {tr("Brush"),
                                                 {{"B", tr("Brush roll at the pen")},
                                                  {"Shift+B", tr("All of the brush")},
                                                  {tr("comma, full stop"), tr("Smaller, larger")},
                                                  {"M", tr("Mirror across X")},
                                                  {"O", tr("Front only")},
                                                  {"J", tr("All parts")},
                                                  {tr("Shift held"), tr("Keeps to across, upright, 45°")},
                                                  {tr("Ctrl+click"), tr("Straight on from the last stroke")},
                                                  {"R", tr("Repeat the last stroke")},
                                                  {"Shift+D", tr("Hold the stencil, or not")},
                                                  {"Shift+S", tr("Hold the slide, or not")},
                                                  {"V", tr("Move slide or sculpt")},
                                                  {"Shift+F", tr("Fill the active part, or all")},
                                                  {"H", tr("Show or hide masks")},
                                                  {"", tr("Strata and Mixer")},
                                                  {"↑ ↓", tr("Choose a layer")},
                                                  {"← →", tr("Its opacity")},
                                                  {"Shift+↑ ↓", tr("Move it")},
                                                  {tr("Space"), tr("Show or hide it")},
                                                  {tr("Return"), tr("Fold or open a group")},
                                                  {tr("Ctrl, Shift+click"), tr("Choose several")},
                                                  {tr("Alt+click a dot"), tr("It alone, or all again")},
                                                  {"Insert", tr("Keep the colour in the well")}}},
                                                {tr("View"),
                                                 {{"1 2 3 4", tr("Flat, Value, Clay, Skin")},
                                                  {"Shift+V", tr("One channel, or one layer, alone")},
                                                  {"5 6 7 8", tr("Front, right, left, top")},
                                                  {"9", tr("Parallel or perspective")},
                                                  {"Y", tr("Light goes with the view")},
                                                  {"Shift+Y", tr("Overcast, lamps, surroundings")},
                                                  {"I", tr("The sculpt's lines")},
                                                  {"Ctrl+U", tr("Sheet beside the easel, or not")},
                                                  {"Ctrl+Shift+U", tr("All room for the sheet")},
                                                  {"Shift+I", tr("Squares over the skin")},
                                                  {"Shift+Q", tr("Checkpoint: all or split")},
                                                  {"Shift+A", tr("Step back, or not")},
                                                  {"Shift+C", tr("Cameras, or not")},
                                                  {"Shift+G", tr("Variants, or not")},
                                                  {"Shift+K", tr("Keep the view as a camera")},
                                                  {"F11", tr("Full screen")},
                                                  {"Home", tr("Frame all")},
                                                  {"End", tr("Frame the active part")},
                                                  {tr("right drag"), tr("Turn")},
                                                  {tr("middle drag"), tr("Pan")},
                                                  {tr("wheel"), tr("Nearer, farther")},
                                                  {"Shift+X", tr("Cut away what is near, or nothing")},
                                                  {tr("Ctrl+wheel"), tr("Cut deeper, less deep")},
                                                  {tr("arrows"), tr("Turn")},
                                                  {tr("Shift+arrows"), tr("Pan")},
                                                  {"+ −", tr("Nearer, farther")},
                                                  {tr("right click"), tr("Card at the pen")}}},
                                                {tr("Work"),
                                                 {{"Ctrl+Z", tr("Undo")},
                                                  {"Ctrl+Shift+Z", tr("Redo")},
                                                  {"Ctrl+N", tr("New from a sculpt")},
                                                  {"Ctrl+O", tr("Open")},
                                                  {"Ctrl+W", tr("Close")},
                                                  {"Ctrl+S", tr("Save")},
                                                  {"Ctrl+Shift+S", tr("Save as")},
                                                  {"Ctrl+E", tr("Export")},
                                                  {"Ctrl+L", tr("Add a painted layer")},
                                                  {"Ctrl+D", tr("Duplicate what is chosen")},
                                                  {"Ctrl+G", tr("Put in a group")},
                                                  {"Ctrl+Shift+G", tr("Take a group apart")},
                                                  {"Ctrl+B", tr("Only on the layer below")},
                                                  {"Ctrl+J", tr("Show alone, or all again")},
                                                  {"Ctrl+K", tr("Keep a checkpoint")},
                                                  {"Ctrl+V", tr("Paste a picture")},
                                                  {"Shift+1", tr("Stage")},
                                                  {"Shift+2", tr("Layer")},
                                                  {"Shift+3", tr("Board")},
                                                  {"Shift+4", tr("Parts")},
                                                  {"Shift+5", tr("Past: the history")},
                                                  {"Ctrl+R", tr("Add points")},
                                                  {"N", tr("Recipe book")},
                                                  {"Ctrl+Q", tr("Quit")},
                                                  {"F1", tr("This page")}}}};
  int column = 0;
  for (const auto& [title, rows] : columns) {
    grid->addWidget(titleLabel(title), 0, column, 1, 2);
    int row = 1;
    for (const auto& [key, what] : rows) {
      if (key.isEmpty()) {
        grid->addWidget(titleLabel(what), row++, column, 1, 2);
        continue;
      }
      auto* k = new QLabel(key);
      k->setStyleSheet("background: #2e2e2e; padding: 2px 6px; border-radius: 3px;");
      grid->addWidget(k, row, column, Qt::AlignRight);
      grid->addWidget(new QLabel(what), row++, column + 1);
    }
    column += 2;
  }
}

}  // namespace juvenor::app
