// Does things to folders, as the window does them, each in a child of its own: a line of what, a tab and the
// folder. Says the child's number, "go" when it begins, on the way what is safe, the names of steps whose
// journal is on the disk, and how it ended. The test kills the child somewhere in between.
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <iostream>
#include <string_view>

#include "kills/kill_scene.h"

namespace {

using namespace juvenor;
using test::KillFolder;

void say(const std::string& word) {
  std::puts(word.c_str());
  std::fflush(stdout);
}

// The work of a document in hand, with a journal beside it, and three strokes more that are safe.
struct InHand {
  Store store;
  History history;
  std::unique_ptr<Journal> journal;
};

Result<InHand> painting(const KillFolder& folder) {
  auto store = Store::open(folder.work());
  if (!store) return store.error();
  auto opened = store->read();
  if (!opened) return opened.error();
  History history(std::move(opened->steps), opened->current);
  auto journal =
      std::make_unique<Journal>(folder.journals(), Journal::Ground{folder.work(), store->save()}, "work");
  say("go");
  for (const char* name : {"stroke 1", "stroke 2", "stroke 3"}) {
    test::painted(history, name, "Paint", static_cast<uint32_t>(name[7]));
    journal->keep(test::stepsOf(history), test::currentOf(history));
    if (const Outcome kept = journal->flush(); !kept) return kept.error();
    say(name);
  }
  return InHand{std::move(*store), std::move(history), std::move(journal)};
}

Outcome saved(const KillFolder& folder) {
  auto hand = painting(folder);
  if (!hand) return hand.error();
  const Outcome ok = test::save(hand->store, hand->history);
  if (!ok) return ok;
  hand->journal->restartFrom({folder.work(), hand->store.save()});
  return hand->journal->flush();
}

Outcome savedAs(const KillFolder& folder) {
  auto hand = painting(folder);
  if (!hand) return hand.error();
  const auto store = saveAs(folder.other(), test::stepsOf(hand->history), test::currentOf(hand->history));
  if (!store) return store.error();
  hand->journal->restartFrom({folder.other(), store->save()});
  return hand->journal->flush();
}

Outcome refined(const KillFolder& folder) {
  auto hand = painting(folder);
  if (!hand) return hand.error();
  auto finer = withRefinement(hand->history.document(), {});
  if (!finer) return finer.error();
  hand->history.push(std::move(*finer), "finer");
  hand->journal->keep(test::stepsOf(hand->history), test::currentOf(hand->history));
  if (const Outcome kept = hand->journal->flush(); !kept) return kept;
  say("finer");
  const Outcome ok = test::save(hand->store, hand->history);
  if (!ok) return ok;
  hand->journal->restartFrom({folder.work(), hand->store.save()});
  return hand->journal->flush();
}

// Another program saves into the document while this one paints; then ours come after theirs.
Outcome putAfterTheirs(const KillFolder& folder) {
  auto hand = painting(folder);
  if (!hand) return hand.error();
  {
    auto store = Store::open(folder.work());
    auto opened = store->read();
    History theirs(std::move(opened->steps), opened->current);
    test::painted(theirs, "theirs", "Other", 99);
    if (const Outcome ok = test::save(*store, theirs); !ok) return ok;
    say("theirs");
  }
  auto store = Store::open(folder.work());
  if (!store) return store.error();
  const auto theirs = store->read();
  if (!theirs) return theirs.error();
  auto both = putAfter(*theirs, test::stepsOf(hand->history));
  if (!both) return both.error();
  Journal anew(folder.journals(), {folder.work(), store->save()}, "work");
  anew.keep(*both, both->back()->id);
  if (const Outcome kept = anew.flush(); !kept) return kept;
  hand->journal.reset();
  const Outcome ok = store->write(*both, both->back()->id);
  if (!ok) return ok;
  anew.restartFrom({folder.work(), store->save()});
  return anew.flush();
}

// The journal a crash left behind is taken up, gone on with, and saved.
Outcome recovered(const KillFolder& folder) {
  const LeftBehindList left = leftBehind(folder.journals());
  if (left.journals.empty()) return Error{"there is nothing to take up"};
  say("go");
  auto back = recover(left.journals.front());
  if (!back) return back.error();
  History history(std::move(back->steps), back->current);
  {
    Journal anew(folder.journals(), {folder.work(), back->save}, "work");
    anew.keep(test::stepsOf(history), test::currentOf(history));
    if (const Outcome kept = anew.flush(); !kept) return kept;
    discard(left.journals.front());
    auto store = Store::open(folder.work());
    if (!store) return store.error();
    if (const Outcome ok = test::save(*store, history); !ok) return ok;
    anew.restartFrom({folder.work(), store->save()});
    return anew.flush();
  }
}

Outcome does(std::string_view what, const KillFolder& folder) {
  if (what == "save") return saved(folder);
  if (what == "save as") return savedAs(folder);
  if (what == "refine") return refined(folder);
  if (what == "put after") return putAfterTheirs(folder);
  if (what == "recover") return recovered(folder);
  return Error{"there is no such thing to do"};
}

}  // namespace

// Starting a program takes half a second, a child of one that has started nothing yet takes none.
int main() {
  std::string line;
  while (std::getline(std::cin, line)) {
    const size_t cut = line.find('\t');
    if (cut == std::string::npos) return 2;
    const pid_t child = fork();
    if (child == 0) {
      const Outcome done = does(line.substr(0, cut), {line.substr(cut + 1)});
      if (!done) say("failed: " + done.error().message());
      std::fflush(stdout);
      _exit(0);
    }
    say("pid " + std::to_string(child));
    int status = 0;
    waitpid(child, &status, 0);
    say(WIFSIGNALED(status) ? "killed" : "done");
  }
  return 0;
}
