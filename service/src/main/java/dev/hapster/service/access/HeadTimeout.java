package dev.hapster.service.access;

import io.netty.bootstrap.ChannelInitializerExtension;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.util.concurrent.ScheduledFuture;
import java.time.Duration;
import java.util.concurrent.TimeUnit;
import org.eclipse.microprofile.config.ConfigProvider;

/**
 * Closes connections on which no call has begun in time, even where bytes of a head come drop by drop. Netty finds it
 * by itself; it works where {@code io.netty.bootstrap.extensions} is {@code serviceload}, which {@link #install} sets.
 */
public final class HeadTimeout extends ChannelInitializerExtension {

    private Duration most;

    /** To be called before anything of Netty is. */
    public static void install() {
        System.setProperty("io.netty.bootstrap.extensions", "serviceload");
    }

    @Override
    public void postInitializeServerChildChannel(Channel channel) {
        channel.pipeline().addFirst(new ChannelInboundHandlerAdapter() {
            /** Called once the channel has its event loop, which it has not yet. */
            @Override
            public void handlerAdded(ChannelHandlerContext context) {
                start(channel);
                context.pipeline().remove(this);
            }
        });
    }

    private void start(Channel channel) {
        ScheduledFuture<?> late = channel.eventLoop()
                .schedule(
                        () -> {
                            if (!CallLimits.hasCalled(channel)) {
                                CallLimits.close(channel);
                            }
                        },
                        most().toMillis(),
                        TimeUnit.MILLISECONDS);
        channel.closeFuture().addListener(gone -> late.cancel(false));
    }

    private synchronized Duration most() {
        if (most == null) {
            most = ConfigProvider.getConfig().getValue("quarkus.http.idle-timeout", Duration.class);
        }
        return most;
    }
}
