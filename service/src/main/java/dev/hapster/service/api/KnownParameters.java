package dev.hapster.service.api;

import dev.hapster.core.definition.yaml.Nearest;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.container.ContainerRequestContext;
import jakarta.ws.rs.container.ResourceInfo;
import java.lang.reflect.Method;
import java.lang.reflect.Parameter;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import org.jboss.resteasy.reactive.RestQuery;
import org.jboss.resteasy.reactive.server.ServerRequestFilter;

/** A query parameter that a call does not have is a mistake, so that a slip is never silently ignored. */
class KnownParameters {

    private final Map<Method, Set<String>> known = new ConcurrentHashMap<>();

    @ServerRequestFilter
    void check(ContainerRequestContext call, ResourceInfo called) {
        Set<String> names = known.computeIfAbsent(called.getResourceMethod(), KnownParameters::names);
        for (String given : call.getUriInfo().getQueryParameters().keySet()) {
            if (!names.contains(given)) {
                throw new BadRequestException("There is no parameter '" + given + "' in this call"
                        + (names.isEmpty() ? "; it has none" : ". " + Nearest.hint(given, names)));
            }
        }
        types(call, called.getResourceMethod());
    }

    /** Checks numbers and booleans, so that a wrong one is named. */
    private static void types(ContainerRequestContext call, Method method) {
        for (Parameter parameter : method.getParameters()) {
            String name = name(parameter);
            boolean inPath = parameter.getAnnotations().length == 0
                    && call.getUriInfo().getPathParameters().containsKey(parameter.getName());
            List<String> given = name != null
                    ? call.getUriInfo().getQueryParameters().get(name)
                    : inPath ? call.getUriInfo().getPathParameters().get(parameter.getName()) : null;
            for (String value : given == null ? List.<String>of() : given) {
                String shown = name == null ? parameter.getName() : name;
                if (isOf(parameter, boolean.class, Boolean.class) && !value.equals("true") && !value.equals("false")) {
                    throw new BadRequestException("'" + shown + "' must be true or false, not '" + value + "'");
                }
                if ((isOf(parameter, int.class, Integer.class) || isOf(parameter, long.class, Long.class))
                        && !isWhole(value, isOf(parameter, int.class, Integer.class))) {
                    throw new BadRequestException("'" + shown + "' must be a whole number, not '" + value + "'");
                }
            }
        }
    }

    private static boolean isOf(Parameter parameter, Class<?> plain, Class<?> boxed) {
        return parameter.getType() == plain || parameter.getType() == boxed;
    }

    private static boolean isWhole(String value, boolean small) {
        try {
            long number = Long.parseLong(value);
            return !small || (int) number == number;
        } catch (NumberFormatException other) {
            return false;
        }
    }

    /** The name of a query parameter; null where it is none. */
    private static String name(Parameter parameter) {
        QueryParam named = parameter.getAnnotation(QueryParam.class);
        RestQuery query = parameter.getAnnotation(RestQuery.class);
        return named != null
                ? named.value()
                : query == null ? null : query.value().isEmpty() ? parameter.getName() : query.value();
    }

    private static Set<String> names(Method method) {
        Set<String> names = new TreeSet<>();
        for (Parameter parameter : method.getParameters()) {
            String name = name(parameter);
            if (name != null) {
                names.add(name);
            }
        }
        return names;
    }
}
