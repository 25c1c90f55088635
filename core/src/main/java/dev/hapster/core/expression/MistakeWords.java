package dev.hapster.core.expression;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Says what the checker found, as people would. */
final class MistakeWords {

    private static final Pattern ENDS = Pattern.compile("'<EOF>'");
    private static final Pattern ALIEN =
            Pattern.compile("(?:mismatched|extraneous|no viable alternative at) input '(.*?)'");
    private static final Pattern OPERATOR =
            Pattern.compile("no matching overload for '_(\\S+)_' applied to '\\((.*), (.*?)\\)'");
    private static final Pattern OVERLOAD = Pattern.compile("no matching overload for '(\\w+)'");

    private MistakeWords() {}

    /** The library's words, said as people would. */
    static String of(String message) {
        Matcher end = ENDS.matcher(message);
        if (end.find()) {
            return "something is missing here: the expression ends too early";
        }
        Matcher alien = ALIEN.matcher(message);
        if (alien.find()) {
            return "'" + alien.group(1) + "' does not belong here";
        }
        Matcher two = OPERATOR.matcher(message);
        if (two.find()) {
            return "'" + two.group(1) + "' does not go with " + kind(two.group(2)) + " and " + kind(two.group(3));
        }
        Matcher other = OVERLOAD.matcher(message);
        if (other.find()) {
            return "'" + other.group(1) + "' cannot be used so";
        }
        return message.replace("undeclared reference to", "there is no")
                .replace(" (in container '')", "")
                .replaceAll("\\s+", " ");
    }

    static String kind(String type) {
        String plain = type.replaceAll("wrapper|[()]|google\\.protobuf\\.", "").strip();
        return switch (plain) {
            case "string" -> "a text";
            case "int" -> "a whole number";
            case "double" -> "a number";
            case "bool" -> "true or false";
            case "timestamp", "Timestamp" -> "a time";
            case "null", "null_type" -> "nothing";
            case "list" -> "a list";
            case "map" -> "a map";
            case "duration", "Duration", "google.protobuf.Duration" -> "a length of time";
            default -> plain;
        };
    }
}
