package dev.hapster.service.access;

import io.netty.handler.codec.http.HttpResponseStatus;
import io.quarkus.vertx.http.runtime.filters.Filters;
import io.vertx.core.http.HttpHeaders;
import io.vertx.core.http.HttpMethod;
import io.vertx.core.json.JsonObject;
import io.vertx.core.net.HostAndPort;
import io.vertx.ext.web.RoutingContext;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/**
 * Rejects calls that a foreign web page could make through somebody's browser: the {@code Host} must be a name of this
 * machine (against DNS rebinding), and an {@code Origin}, where one is sent, must be the service itself. Also gives the
 * console's page for its addresses.
 */
@ApplicationScoped
public class CallerGuard {

    private static final Set<String> LOCAL = Set.of("127.0.0.1", "localhost", "::1", "[::1]");
    private static final String PAGES = "/(jobs|runs|datasets|rejects)(/.*)?";
    /** What is not a page of the console: what the service itself answers, and files of the console. */
    private static final String NO_PAGES =
            "/((api|health|q)(/.*)?|([^/]*/)*[^/]*\\.(js|css|svg|png|ico|woff2?|html|json|txt))";

    private final Set<String> hosts;

    CallerGuard(@ConfigProperty(name = "hapster.hosts") Optional<List<String>> more) {
        hosts = new java.util.HashSet<>(LOCAL);
        more.ifPresent(hosts::addAll);
    }

    void register(@Observes Filters filters) {
        filters.register(this::guard, 1000);
    }

    private void guard(RoutingContext call) {
        HostAndPort authority = call.request().authority();
        if (authority == null || !hosts.contains(authority.host())) {
            refuse(call, "The host '" + authority + "' is not this service. Call it as 127.0.0.1 or localhost.");
            return;
        }
        String origin = call.request().getHeader(HttpHeaders.ORIGIN);
        if (origin != null && !origin.equals("http://" + authority) && !origin.equals("https://" + authority)) {
            refuse(call, "Calls from pages of '" + origin + "' are rejected.");
            return;
        }
        String path = call.normalizedPath();
        boolean page = path.matches(PAGES) || (accepts(call, "text/html") && !path.matches(NO_PAGES));
        if (page && call.request().method().equals(HttpMethod.GET)) {
            call.reroute("/index.html");
            return;
        }
        if (path.equals("/") || path.equals("/index.html")) {
            call.response().putHeader(HttpHeaders.CACHE_CONTROL, "no-cache"); // what it loads has a new name each time
        }
        call.next();
    }

    private static boolean accepts(RoutingContext call, String type) {
        String accept = call.request().getHeader(HttpHeaders.ACCEPT);
        return accept != null && accept.contains(type);
    }

    private static void refuse(RoutingContext call, String detail) {
        refuse(call, 403, "foreign-caller", detail);
    }

    /** Answers a call with problem details before anybody else sees it. */
    static void refuse(RoutingContext call, int status, String type, String detail) {
        call.response()
                .setStatusCode(status)
                .putHeader(HttpHeaders.CONTENT_TYPE, "application/problem+json")
                .end(new JsonObject()
                        .put("type", "urn:hapster:" + type)
                        .put("title", HttpResponseStatus.valueOf(status).reasonPhrase())
                        .put("status", status)
                        .put("detail", detail)
                        .encode());
    }
}
