package dev.hapster.service.runs;

import jakarta.enterprise.context.ApplicationScoped;
import org.eclipse.microprofile.health.HealthCheck;
import org.eclipse.microprofile.health.HealthCheckResponse;
import org.eclipse.microprofile.health.HealthCheckResponseBuilder;
import org.eclipse.microprofile.health.Readiness;

/** Whether the catalogue and the store fit together. */
@Readiness
@ApplicationScoped
class StoreHealth implements HealthCheck {

    private final StoreCheck store;

    StoreHealth(StoreCheck store) {
        this.store = store;
    }

    @Override
    public HealthCheckResponse call() {
        HealthCheckResponseBuilder answer =
                HealthCheckResponse.named("store").status(store.problems().isEmpty());
        for (int i = 0; i < store.problems().size(); i++) {
            answer.withData("problem " + (i + 1), store.problems().get(i));
        }
        return answer.build();
    }
}
