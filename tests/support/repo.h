// SPDX-License-Identifier: GPL-3.0-or-later
// Where the stored demo and the fixtures lie; said in one place, so that the tests' objects do not depend on it.
#pragma once

#include <string>

namespace ivrant::test {

/// Path of `name` ("/data/demo/heron.ivrant") in the sources.
std::string repo(const std::string& name);
/// Path of the command-line program that was built with these tests.
std::string commandLine();

} // namespace ivrant::test
