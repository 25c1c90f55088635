package dev.hapster.core.expression;

import dev.cel.common.types.CelType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A function of the language.
 *
 * @param method whether it is written behind its first argument: {@code text.upper()}
 * @param forms types that it takes and gives; all forms take as many arguments
 * @param check what is wrong with arguments that are written in the expression itself
 * @param keepsNothing whether it is asked also where an argument is nothing; otherwise it gives nothing then
 * @param means what it does, in Markdown: the part of a sentence
 * @param examples each is an expression and what it gives, as {@link Values#words} has it
 */
record Function(
        String name,
        boolean method,
        List<Form> forms,
        Body body,
        Check check,
        boolean keepsNothing,
        String means,
        List<Example> examples) {

    /** One choice of types. */
    record Form(CelType gives, List<CelType> takes) {}

    /** What it does. */
    interface Body {
        Object of(Frame frame, Object... arguments) throws FailedException;
    }

    /** Looks at the arguments that are written as constants; the others are null. */
    interface Check {
        Optional<String> mistake(Object... constants);
    }

    record Example(String expression, String gives) {}

    int arity() {
        return forms.get(0).takes().size();
    }

    /** The same, with one more choice of types. */
    Function form(CelType gives, CelType... takes) {
        List<Form> more = new ArrayList<>(forms);
        more.add(new Form(gives, List.of(takes)));
        return new Function(name, method, more, body, check, keepsNothing, means, examples);
    }

    /** The same, with arguments that are looked at before any row is. */
    Function checked(Check look) {
        return new Function(name, method, forms, body, look, keepsNothing, means, examples);
    }

    /** The same, asked also where an argument is nothing. */
    Function keepingNothing() {
        return new Function(name, method, forms, body, check, true, means, examples);
    }

    /** The same, with one more example. */
    Function example(String expression, String gives) {
        List<Example> more = new ArrayList<>(examples);
        more.add(new Example(expression, gives));
        return new Function(name, method, forms, body, check, keepsNothing, means, more);
    }
}
