<template>
  <div class="empty">
    <h2>There is no such place</h2>
    <p>
      The knives and the record are untouched. <RouterLink to="/rack">Back to the Rack</RouterLink>
    </p>
  </div>
</template>
