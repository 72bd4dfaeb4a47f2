# Warm Tide in a container: the server, or with another command a worker. Read by a parser, never built where this is made (docs/scale.md).
FROM debian:12
RUN apt-get update \
 && apt-get install -y --no-install-recommends git python3 python3-venv nodejs npm postgresql util-linux ca-certificates \
 && rm -rf /var/lib/apt/lists/*
WORKDIR /warmtide
COPY . .
RUN ./start --prepare --data /tmp/prepared && rm -rf /tmp/prepared
EXPOSE 8765
ENTRYPOINT ["/warmtide/.venv/bin/warmtide"]
CMD ["serve", "--host", "0.0.0.0"]
