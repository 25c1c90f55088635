package dev.hapster.service.api;

import dev.hapster.core.definition.yaml.Nearest;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.container.ContainerRequestContext;
import jakarta.ws.rs.container.ResourceInfo;
import java.lang.reflect.Method;
import java.lang.reflect.Parameter;
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
    }

    private static Set<String> names(Method method) {
        Set<String> names = new TreeSet<>();
        for (Parameter parameter : method.getParameters()) {
            QueryParam named = parameter.getAnnotation(QueryParam.class);
            RestQuery query = parameter.getAnnotation(RestQuery.class);
            if (named != null) {
                names.add(named.value());
            } else if (query != null) {
                names.add(query.value().isEmpty() ? parameter.getName() : query.value());
            }
        }
        return names;
    }
}
