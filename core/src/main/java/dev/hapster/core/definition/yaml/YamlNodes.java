package dev.hapster.core.definition.yaml;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Optional;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.api.lowlevel.Parse;
import org.snakeyaml.engine.v2.common.Anchor;
import org.snakeyaml.engine.v2.events.AliasEvent;
import org.snakeyaml.engine.v2.events.CollectionEndEvent;
import org.snakeyaml.engine.v2.events.CollectionStartEvent;
import org.snakeyaml.engine.v2.events.Event;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.Node;

/** The nodes of a YAML text, after a look at whether going through them would ever end. */
public final class YamlNodes {

    private static final int DEEPEST = 50;

    private YamlNodes() {}

    /**
     * @return empty where the text holds nothing
     * @throws MarkedYamlEngineException where the text is not YAML, is nested too deep, or a part of it contains itself
     */
    public static Optional<Node> of(String text, LoadSettings settings) {
        try {
            checkDepth(text, settings);
            return new Compose(settings).composeString(text);
        } catch (IndexOutOfBoundsException wrong) {
            // the parser's own limit is 1,024 characters, and it does not say so
            throw new YamlEngineException("a key or a word of it is longer than 1 024 characters", wrong);
        }
    }

    private static void checkDepth(String text, LoadSettings settings) {
        Deque<Optional<Anchor>> open = new ArrayDeque<>();
        for (Event event : new Parse(settings).parseString(text)) { // events come one by one: no depth of calls
            if (event instanceof CollectionStartEvent begins) {
                open.push(begins.getAnchor());
            } else if (event instanceof CollectionEndEvent) {
                open.pop();
            } else if (event instanceof AliasEvent alias && open.contains(Optional.of(alias.getAlias()))) {
                throw wrong("*" + alias.getAlias() + " stands inside of what it refers to", event);
            }
            if (open.size() > DEEPEST) {
                throw wrong("it is nested more than " + DEEPEST + " levels deep", event);
            }
        }
    }

    private static NestingException wrong(String what, Event at) {
        return new NestingException(what, at);
    }

    /** Going through the text would not end, or not soon. */
    public static final class NestingException extends MarkedYamlEngineException {
        NestingException(String what, Event at) {
            super(null, Optional.empty(), what, at.getStartMark());
        }
    }
}
