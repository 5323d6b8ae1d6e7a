#include "core/quietly.h"

#include <sys/resource.h>
#include <sys/syscall.h>
#include <tbb/task_arena.h>
#include <unistd.h>

namespace juvenor {

void quietly(const std::function<void()>& work) {
  // of this thread alone, as Linux has it; where it is refused nothing is lost
  (void)::setpriority(PRIO_PROCESS, static_cast<id_t>(::syscall(SYS_gettid)), 10);
  tbb::task_arena arena(tbb::task_arena::automatic, 1, tbb::task_arena::priority::low);
  arena.execute(work);
}

}  // namespace juvenor
