package dev.hapster.service.api.call;

import dev.hapster.core.definition.yaml.Nearest;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.container.ContainerRequestContext;
import jakarta.ws.rs.container.ResourceInfo;
import java.lang.reflect.AnnotatedElement;
import java.lang.reflect.Field;
import java.lang.reflect.Method;
import java.lang.reflect.Parameter;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.jboss.resteasy.reactive.RestQuery;
import org.jboss.resteasy.reactive.server.ServerRequestFilter;

/** A query parameter that a call does not have is a mistake, so that a slip is never silently ignored. */
class KnownParameters {

    private final Map<Method, List<Declared>> known = new ConcurrentHashMap<>();

    /**
     * A parameter of a call.
     *
     * @param inPath whether it is a part of the path; otherwise it is of the query
     */
    private record Declared(String name, Class<?> type, boolean inPath) {

        boolean is(Class<?> plain, Class<?> boxed) {
            return type == plain || type == boxed;
        }
    }

    @ServerRequestFilter
    void check(ContainerRequestContext call, ResourceInfo called) {
        List<Declared> declared = known.computeIfAbsent(called.getResourceMethod(), KnownParameters::declared);
        Set<String> names = declared.stream()
                .filter(one -> !one.inPath)
                .map(Declared::name)
                .collect(Collectors.toCollection(TreeSet::new));
        for (String given : call.getUriInfo().getQueryParameters().keySet()) {
            if (!names.contains(given)) {
                throw new BadRequestException("There is no parameter '" + given + "' in this call"
                        + (names.isEmpty() ? "; it has none" : ". " + Nearest.hint(given, names)));
            }
        }
        for (Declared one : declared) {
            List<String> given = one.inPath
                    ? call.getUriInfo().getPathParameters().get(one.name)
                    : call.getUriInfo().getQueryParameters().get(one.name);
            if (given != null) {
                given.forEach(value -> check(one, value));
            }
        }
    }

    /** Checks numbers and booleans, so that a wrong one is named. */
    private static void check(Declared parameter, String value) {
        if (parameter.is(boolean.class, Boolean.class) && !value.equals("true") && !value.equals("false")) {
            throw new BadRequestException("'" + parameter.name + "' must be true or false, not '" + value + "'");
        }
        boolean small = parameter.is(int.class, Integer.class);
        if ((small || parameter.is(long.class, Long.class)) && !isWhole(value, small)) {
            throw new BadRequestException("'" + parameter.name + "' must be a whole number, not '" + value + "'");
        }
    }

    private static boolean isWhole(String value, boolean small) {
        try {
            long number = Long.parseLong(value);
            return !small || (int) number == number;
        } catch (NumberFormatException other) {
            return false;
        }
    }

    private static List<Declared> declared(Method method) {
        List<Declared> all = new ArrayList<>();
        for (Parameter parameter : method.getParameters()) {
            String name = name(parameter, parameter.getName());
            if (name != null) {
                all.add(new Declared(name, parameter.getType(), false));
            } else if (parameter.isAnnotationPresent(BeanParam.class)) {
                for (Field field : parameter.getType().getFields()) {
                    String of = name(field, field.getName());
                    if (of != null) {
                        all.add(new Declared(of, field.getType(), false));
                    }
                }
            } else if (parameter.getAnnotations().length == 0) { // or the body, which no path has
                all.add(new Declared(parameter.getName(), parameter.getType(), true));
            }
        }
        return all;
    }

    /** The name of a query parameter; null where it is none. */
    private static String name(AnnotatedElement declared, String usual) {
        QueryParam named = declared.getAnnotation(QueryParam.class);
        RestQuery query = declared.getAnnotation(RestQuery.class);
        return named != null
                ? named.value()
                : query == null ? null : query.value().isEmpty() ? usual : query.value();
    }
}
