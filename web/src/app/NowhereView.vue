<template>
  <div class="page">
    <h1>There is nothing at this address</h1>
    <p>The link may be old. <router-link to="/cases">Go to the cases</router-link>.</p>
  </div>
</template>
