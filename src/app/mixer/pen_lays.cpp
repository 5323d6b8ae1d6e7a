#include "app/mixer/pen_lays.h"

#include <QVBoxLayout>

#include "app/controls/channel_grid.h"
#include "app/controls/labels.h"

namespace juvenor::app {

PenLays::PenLays(Session& session) : session_(session) {
  setObjectName("pen lays");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 0, 14, 6);
  column->setSpacing(4);
  auto* title = quietLabel(tr("The pen lays"));
  title->setToolTip(tr("What is off is not touched by any ink or fill"));
  grid_ = new ChannelGrid(2, title);
  column->addWidget(grid_);
  Tools& tools = session_.tools();
  connect(grid_, &ChannelGrid::toggled, this, [&tools](Channel c, bool on) { tools.setLaid(c, on); });
  connect(grid_, &ChannelGrid::changed, this, [&tools](Channel c, float v) { tools.setNumber(c, v); });
  connect(&tools, &Tools::changed, this, &PenLays::refresh);
  connect(&session_, &Session::opened, this, &PenLays::refresh);
  refresh();
}

void PenLays::refresh() {
  const Tools& tools = session_.tools();
  std::array<float, kChannelCount> values{};
  for (size_t c = 0; c < kChannelCount; ++c) values[c] = tools.number(static_cast<Channel>(c));
  HeightScale scale;
  if (session_.isOpen())
    scale = {session_.document().placement.millimetres,
             0.01f * session_.document().surface->bounds.diagonal()};
  grid_->show(tools.laid(), tools.color(), values, scale);
}

}  // namespace juvenor::app

#include "moc_pen_lays.cpp"
