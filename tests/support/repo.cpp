// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/repo.h"

namespace ivrant::test {

std::string repo(const std::string& name) { return IVRANT_SOURCE_DIR + name; }
std::string commandLine() { return IVRANT_CLI; }

} // namespace ivrant::test
