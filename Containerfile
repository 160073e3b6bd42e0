# A workshop in a container: build the wheel first with `make wheel`, then this with any builder of container images.
FROM python:3.11-slim
COPY requirements.lock dist/fairwitness-*.whl /install/
RUN apt-get update -qq && apt-get install -y -qq --no-install-recommends libpangoft2-1.0-0 libharfbuzz-subset0 \
    && rm -rf /var/lib/apt/lists/*
RUN pip install --no-cache-dir -r /install/requirements.lock \
    && pip install --no-cache-dir --no-deps /install/fairwitness-*.whl \
    && rm -r /install \
    && useradd --system --create-home --home-dir /var/lib/fairwitness fairwitness
USER fairwitness
ENV FAIRWITNESS_DATA=/var/lib/fairwitness/data
VOLUME /var/lib/fairwitness
EXPOSE 8000
HEALTHCHECK CMD ["python", "-c", "import urllib.request as u; u.urlopen(u.Request('http://127.0.0.1:8000/health/ready/', headers={'Host': 'localhost'}))"]
CMD ["fairwitness", "serve", "--host", "0.0.0.0", "--port", "8000", "--workers", "2"]
