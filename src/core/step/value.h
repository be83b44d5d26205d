#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace wendrix::step {

using EntityId = std::uint64_t; ///< the number behind '#'; 0 is none

enum class Kind : std::uint8_t { Omitted, Derived, Integer, Real, String, Enumeration, Reference, Binary, List, Typed };

/// One argument as the file has it. `next` is where the following sibling stands in the same array, so
/// a whole instance is one allocation.
struct Node {
    Kind kind = Kind::Omitted;
    std::uint16_t wordLength = 0; ///< of a typed value's keyword
    std::uint32_t next = 0;
    std::uint32_t count = 0; ///< of a list's or typed value's items; of a text's bytes
    union {
        const char* text; ///< raw: a string without its quotes, an enumeration without dots, a type's keyword
        double real;
        std::int64_t integer = 0;
    };
    [[nodiscard]] std::string_view raw() const { return {text, kind == Kind::Typed ? wordLength : count}; }
};
static_assert(sizeof(Node) == 24);

/// A view of one argument; valid while its Instance lives and stays where it is.
class Value {
public:
    Value() = default;
    Value(const Node* nodes, std::uint32_t at) : nodes_(nodes), at_(at) {}

    [[nodiscard]] Kind kind() const { return nodes_ != nullptr ? node().kind : Kind::Omitted; }
    [[nodiscard]] bool isGiven() const { return kind() != Kind::Omitted && kind() != Kind::Derived; }
    [[nodiscard]] bool isList() const { return kind() == Kind::List; }

    /// The number, also of a typed value around one and of an integer; nothing if it is none.
    [[nodiscard]] std::optional<double> number() const;
    [[nodiscard]] double numberOr(double otherwise) const { return number().value_or(otherwise); }
    [[nodiscard]] std::optional<std::int64_t> integer() const;
    /// The entity referred to, or 0.
    [[nodiscard]] EntityId reference() const;
    /// A string, decoded to UTF-8; also of a typed value around one. Empty if it is none.
    [[nodiscard]] std::string text() const;
    /// The item of an enumeration, BOOLEAN or LOGICAL without its dots: "T", "MILLI".
    [[nodiscard]] std::string_view enumeration() const;
    /// The keyword of a typed value, as written: "IFCLABEL".
    [[nodiscard]] std::string_view typeName() const;

    /// Of a list or a typed value: its items.
    [[nodiscard]] std::uint32_t size() const;
    [[nodiscard]] Value operator[](std::uint32_t index) const;

    class Iterator {
    public:
        Iterator(const Node* nodes, std::uint32_t at, std::uint32_t left) : nodes_(nodes), at_(at), left_(left) {}
        Value operator*() const { return {nodes_, at_}; }
        Iterator& operator++()
        {
            at_ = nodes_[at_].next;
            --left_;
            return *this;
        }
        bool operator!=(const Iterator& other) const { return left_ != other.left_; }

    private:
        const Node* nodes_;
        std::uint32_t at_;
        std::uint32_t left_;
    };
    [[nodiscard]] Iterator begin() const { return {nodes_, at_ + 1, size()}; }
    [[nodiscard]] Iterator end() const { return {nodes_, 0, 0}; }

private:
    [[nodiscard]] const Node& node() const { return nodes_[at_]; }
    const Node* nodes_ = nullptr;
    std::uint32_t at_ = 0;
};

/// The arguments of one entity; nodes[0] is the list of them all.
struct Instance {
    std::vector<Node> nodes;
    [[nodiscard]] Value arguments() const { return nodes.empty() ? Value{} : Value{nodes.data(), 0}; }
};

/// ISO 10303-21 string encoding to UTF-8: '' \\ \S\ \P.\ \X\ \X2\ \X4\, raw UTF-8, else Latin-1 bytes.
[[nodiscard]] std::string decodeString(std::string_view raw);

} // namespace wendrix::step
