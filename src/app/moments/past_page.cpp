#include "app/moments/past_page.h"

#include <QVBoxLayout>

#include "app/moments/checkpoints.h"
#include "app/moments/steps.h"

namespace juvenor::app {

PastPage::PastPage(Session& session, Easel& easel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 8, 8, 8);
  column->setSpacing(6);
  column->addWidget(new CheckpointsPanel(session, easel));
  column->addWidget(new StepsPanel(session), 1);
}

}  // namespace juvenor::app

#include "moc_past_page.cpp"
