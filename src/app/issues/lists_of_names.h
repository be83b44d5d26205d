#pragma once

#include "shell/stage.h"

#include <algorithm>
#include <string>
#include <vector>

/// Lists of names between forms and values.
namespace wendrix::app {

[[nodiscard]] inline QString joined(const std::vector<std::string>& list, const QString& between)
{
    QStringList all;
    for (const std::string& one : list)
        all << q(one);
    return all.join(between);
}

/// Without blanks around them; empty ones are left out.
[[nodiscard]] inline std::vector<std::string> parted(const QString& text, QChar between)
{
    std::vector<std::string> list;
    for (const QString& one : text.split(between, Qt::SkipEmptyParts))
        if (const QString plain = one.trimmed(); !plain.isEmpty())
            list.push_back(plain.toStdString());
    return list;
}

/// One of a list by its name; somebody else may have taken it away or put it elsewhere since.
template <class T>
[[nodiscard]] T* named(std::vector<T>& list, const std::string& name)
{
    const auto at = std::find_if(list.begin(), list.end(), [&](const T& one) { return one.name == name; });
    return at == list.end() ? nullptr : &*at;
}

} // namespace wendrix::app
