#include "commands.h"
namespace wendrix::cli {
int bcfList(const std::string&) { return kInternal; }
int bcfCheck(const std::string&) { return kInternal; }
} // namespace wendrix::cli
